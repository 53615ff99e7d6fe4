using System.Buffers.Binary;
using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;

namespace DuneCrate.Imaging.Rasters;

/// <summary>
/// The first directory of a TIFF. Source: <em>TIFF Revision 6.0</em>, sections 2, 8, 15, 18 and 19; the 64-bit form with 8-byte offsets is
/// known and its pixels are read, its header fields alike.
/// </summary>
internal sealed class TiffHeader
{
    private const int MostEntries = 4096,
        MostDirectories = 1024;
    private const int WidthTag = 256,
        HeightTag = 257,
        BitsTag = 258,
        CompressionTag = 259,
        PhotometricTag = 262,
        SamplesTag = 277,
        XResolutionTag = 282,
        YResolutionTag = 283,
        ExtraTag = 338,
        FormatTag = 339,
        TileWidthTag = 322,
        TileHeightTag = 323;

    private readonly FileStream _stream;
    private readonly string _path;
    private readonly bool _isBig,
        _isLittle;
    private readonly Dictionary<int, double[]> _tags = [];
    private long _extrasAt;

    private TiffHeader(FileStream stream, string path)
    {
        (_stream, _path) = (stream, path);
        Span<byte> start = stackalloc byte[4];
        stream.ReadExactly(start);
        _isLittle = start[0] == 0x49;
        _isBig = start[_isLittle ? 2 : 3] == 0x2b;
    }

    /// <summary>Reads the directory and counts further ones.</summary>
    public static RasterHeader Read(FileStream stream, string path)
    {
        var tiff = new TiffHeader(stream, path);
        stream.Position = tiff._isBig ? 8 : 4;
        long next = tiff.ReadDirectory(tiff.Offset(), keep: true);
        int further = 0;
        var seen = new HashSet<long>();
        while (next != 0 && seen.Add(next) && seen.Count < MostDirectories && next < stream.Length - 2)
        {
            next = tiff.ReadDirectory(next, keep: false);
            further++;
        }

        return tiff.Header(further);
    }

    private RasterHeader Header(int further)
    {
        int samples = (int)One(SamplesTag, 1),
            bits = (int)One(BitsTag, 1),
            format = (int)One(FormatTag, 1),
            photometric = (int)One(PhotometricTag, 1);
        if (samples is < 1 or > 1024 || (_tags.TryGetValue(BitsTag, out double[]? all) && all.Any(b => b != bits)))
        {
            throw new ImageException(_path, 0, $"the TIFF has {samples} samples of differing depth a pixel");
        }

        ChannelType? type = (format, bits) switch
        {
            (1 or 4, <= 8) => ChannelType.UInt8,
            (1 or 4, 16) => ChannelType.UInt16,
            (1 or 4, 32) => ChannelType.UInt,
            (3, 16) => ChannelType.Half,
            (3, 32) => ChannelType.Float,
            _ => null,
        };
        string[] colours = photometric switch
        {
            0 or 1 => ["Y"],
            5 => ["C", "M", "Y", "K"],
            _ => ["R", "G", "B"],
        };
        bool isPalette = photometric == 3;
        double[] extras = _tags.GetValueOrDefault(ExtraTag) ?? [];
        int left = isPalette ? 0 : Math.Max(0, samples - colours.Length),
            alpha = Array.FindIndex(extras, e => e is 1 or 2);
        string[] names =
        [
            .. colours,
            .. Enumerable.Range(0, left).Select(i => i == alpha || (i == 0 && extras.Length == 0 && left == 1) ? "A" : $"extra{i + 1}"),
        ];
        (double across, double down) = (One(XResolutionTag, 1), One(YResolutionTag, 1));
        bool isTiled = _tags.ContainsKey(TileWidthTag);
        double line = Math.Max(One(WidthTag, 0), One(TileWidthTag, 0)) * samples * Math.Max(1, bits / 8);
        return new RasterHeader
        {
            Format = "tiff",
            Width = (int)One(WidthTag, 0),
            Height = (int)One(HeightTag, 0),
            Type = type ?? ChannelType.Float,
            Channels = [.. names.Take(isPalette ? 3 : samples)],
            Compression = (int)One(CompressionTag, 1) switch
            {
                1 => "none",
                5 => "lzw",
                6 or 7 => "jpeg",
                8 or 32946 => "deflate",
                32773 => "packbits",
                50000 => "zstd",
                34925 => "lzma",
                var other => $"compression {other}",
            },
            Storage = isTiled ? "tiles" : "strips",
            HeldBytes = isTiled ? (long)Math.Min(line * One(TileHeightTag, 0), long.MaxValue / 2) : 0,
            Alpha =
                !names.Contains("A") ? null
                : alpha < 0 ? "unspecified"
                : extras[alpha] == 1 ? "premultiplied"
                : "straight",
            AssociatedAt = alpha >= 0 && extras[alpha] == 1 ? _extrasAt + 2 * alpha + (_isLittle ? 0 : 1) : null,
            PixelAspectRatio = across > 0 && down > 0 && PixelAspect.Is(down / across) ? down / across : 1,
            FurtherPictures = further,
            Unsupported =
                type is null ? $"TIFF samples of {bits} bits in format {format}"
                : type == ChannelType.Half ? "TIFF with 16-bit float samples"
                : null,
        };
    }

    private double One(int tag, double otherwise) =>
        _tags.TryGetValue(tag, out double[]? values) && values.Length > 0 ? values[0] : otherwise;

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
        if (bytes == 0 || count is < 1 or > 1024 || tag is not (>= WidthTag and <= FormatTag))
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

        if (tag == ExtraTag)
        {
            _extrasAt = _stream.Position;
        }

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

        _tags[tag] = values;
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
