using System.Buffers.Binary;
using DuneCrate.Exr;

namespace DuneCrate.Imaging.Rasters;

/// <summary>
/// The directories of a TIFF: the entries of the first, by tag, and how many follow. Source: <em>TIFF Revision 6.0</em>, section 2; the
/// 64-bit form with 8-byte offsets is known.
/// </summary>
internal sealed class TiffDirectory
{
    private const int MostEntries = 4096,
        MostDirectories = 1024,
        MostValues = 1024,
        BigVersion = 0x2b,
        LittleEndian = 0x49;

    private readonly FileStream _stream;
    private readonly string _path;
    private readonly (int First, int Last) _wanted;
    private readonly bool _isBig,
        _isLittle;
    private readonly Dictionary<int, (long At, double[] Values)> _entries = [];

    private TiffDirectory(FileStream stream, string path, (int First, int Last) wanted)
    {
        (_stream, _path, _wanted) = (stream, path, wanted);
        Span<byte> start = stackalloc byte[4];
        stream.ReadExactly(start);
        _isLittle = start[0] == LittleEndian;
        _isBig = start[_isLittle ? 2 : 3] == BigVersion;
    }

    /// <summary>How many directories follow the first.</summary>
    public int Further { get; private set; }

    /// <summary>Reads the first directory and counts further ones.</summary>
    /// <param name="stream">The file, at its start.</param>
    /// <param name="path">Its name, for errors.</param>
    /// <param name="wanted">The tags that are kept, both ends among them.</param>
    /// <exception cref="ImageException">A directory lies outside the file, or claims too many entries.</exception>
    public static TiffDirectory Read(FileStream stream, string path, (int First, int Last) wanted)
    {
        var tiff = new TiffDirectory(stream, path, wanted);
        stream.Position = tiff._isBig ? 8 : 4;
        long next = tiff.ReadDirectory(tiff.Offset(), keep: true);
        var seen = new HashSet<long>();
        while (next != 0 && seen.Add(next) && seen.Count < MostDirectories && next < stream.Length - 2)
        {
            next = tiff.ReadDirectory(next, keep: false);
            tiff.Further++;
        }

        return tiff;
    }

    /// <summary>Whether there is an entry.</summary>
    public bool Has(int tag) => _entries.ContainsKey(tag);

    /// <summary>All values of an entry; none when there is no such entry.</summary>
    public double[] All(int tag) => _entries.TryGetValue(tag, out var entry) ? entry.Values : [];

    /// <summary>The first value of an entry, or another.</summary>
    public double One(int tag, double otherwise) => All(tag) is [var value, ..] ? value : otherwise;

    /// <summary>Where in the file the low byte of a 16-bit value of an entry stands.</summary>
    public long LowByteOf(int tag, int index) => _entries[tag].At + 2 * index + (_isLittle ? 0 : 1);

    private long ReadDirectory(long at, bool keep)
    {
        if (at <= 0 || at > _stream.Length - 2)
        {
            throw new ImageException(_path, at, "the TIFF's directory lies outside the file");
        }

        _stream.Position = at;
        long entries =
            _isBig ? (long)Number(8)
            : Number(2) is var few ? (long)few
            : 0;
        if (entries is < 0 or > MostEntries)
        {
            throw new ImageException(_path, at, $"the TIFF's directory claims {entries} entries");
        }

        long first = _stream.Position;
        int size = _isBig ? 20 : 12;
        for (int i = 0; keep && i < entries; i++)
        {
            _stream.Position = first + i * size;
            ReadEntry();
        }

        _stream.Position = first + entries * size;
        return Offset();
    }

    private void ReadEntry()
    {
        int tag = (int)Number(2),
            type = (int)Number(2);
        long count = (long)Number(_isBig ? 8 : 4);
        int bytes = type switch
        {
            1 or 2 or 6 or 7 => 1,
            3 or 8 => 2,
            4 or 9 or 11 => 4,
            5 or 10 or 12 or 16 => 8,
            _ => 0,
        };
        if (bytes == 0 || count is < 1 or > MostValues || tag < _wanted.First || tag > _wanted.Last)
        {
            return;
        }

        if (bytes * count > (_isBig ? 8 : 4))
        {
            long at = Offset();
            if (at < 0 || at > _stream.Length - bytes * count)
            {
                return;
            }

            _stream.Position = at;
        }

        long begins = _stream.Position;
        double[] values = new double[count];
        for (int i = 0; i < count; i++)
        {
            values[i] =
                type == 5
                    ? Number(4) is var top && Number(4) is > 0 and var under
                        ? (double)top / under
                        : 0
                    : Number(bytes);
        }

        _entries[tag] = (begins, values);
    }

    private long Offset() => (long)Number(_isBig ? 8 : 4);

    private ulong Number(int bytes)
    {
        Span<byte> room = stackalloc byte[8];
        _stream.ReadExactly(room[..bytes]);
        return (bytes, _isLittle) switch
        {
            (1, _) => room[0],
            (2, true) => BinaryPrimitives.ReadUInt16LittleEndian(room),
            (2, false) => BinaryPrimitives.ReadUInt16BigEndian(room),
            (4, true) => BinaryPrimitives.ReadUInt32LittleEndian(room),
            (4, false) => BinaryPrimitives.ReadUInt32BigEndian(room),
            (_, true) => BinaryPrimitives.ReadUInt64LittleEndian(room),
            _ => BinaryPrimitives.ReadUInt64BigEndian(room),
        };
    }
}
