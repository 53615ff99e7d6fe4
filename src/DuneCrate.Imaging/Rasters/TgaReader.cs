using System.Buffers.Binary;
using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Storage;

namespace DuneCrate.Imaging.Rasters;

/// <summary>
/// TGA: true colour of 24 and 32 bits and grey of 8, plain and run-length encoded, from any corner. Source: Truevision, <em>TGA FILE FORMAT
/// SPECIFICATION</em>, version 2.0.
/// </summary>
internal sealed class TgaReader : RasterReader
{
    private const int HeaderBytes = 18,
        FooterBytes = 26,
        AttributesAt = 494,
        BlockBytes = 1 << 16;

    private readonly StorageFile _file;
    private readonly int _channels;
    private readonly bool _fromTop,
        _fromRight,
        _isPacked;
    private readonly long _start;
    private readonly byte[] _line,
        _block = new byte[BlockBytes];
    private Place[]? _lines;
    private Place _at;
    private long _blockAt;
    private int _blockBytes,
        _whole;

    /// <summary>Opens the pixels of a picture whose header was read.</summary>
    public TgaReader(StorageFile file, RasterHeader header)
        : base(header, file.Path.Display)
    {
        _file = file;
        Span<byte> head = stackalloc byte[HeaderBytes];
        RandomAccess.Read(file.Handle, head, 0);
        (_channels, _isPacked) = (header.Channels.Length, header.Compression == "rle");
        (_fromTop, _fromRight) = ((head[17] & 0x20) != 0, (head[17] & 0x10) != 0);
        _start = HeaderBytes + head[0] + (head[1] == 1 ? BinaryPrimitives.ReadUInt16LittleEndian(head[5..]) * ((head[7] + 7) / 8) : 0);
        (_line, _at) = (new byte[header.Width * _channels], new Place(_start, 0, false));
    }

    /// <summary>Where a line begins: its byte, and what is left of the packet that reaches into it.</summary>
    private readonly record struct Place(long Offset, int Left, bool Repeats);

    /// <summary>Reads the header, and from the extension area of newer files what their alpha is.</summary>
    public static RasterHeader ReadHeader(FileStream stream, string path)
    {
        Span<byte> head = stackalloc byte[HeaderBytes];
        stream.ReadExactly(head);
        (byte map, byte type, byte depth, byte descriptor) = (head[1], head[2], head[16], head[17]);
        if (map > 1 || type is not (1 or 2 or 3 or 9 or 10 or 11) || depth is not (8 or 15 or 16 or 24 or 32))
        {
            throw new ImageException(path, 0, "the file is not TGA");
        }

        bool isGrey = type is 3 or 11,
            isColour = type is 2 or 10;
        return new RasterHeader
        {
            Format = "tga",
            Width = BinaryPrimitives.ReadUInt16LittleEndian(head[12..]),
            Height = BinaryPrimitives.ReadUInt16LittleEndian(head[14..]),
            Type = ChannelType.UInt8,
            Channels =
                isGrey ? ["Y"]
                : depth == 32 ? ["R", "G", "B", "A"]
                : ["R", "G", "B"],
            Compression = type >= 9 ? "rle" : "none",
            Alpha = depth != 32 ? null : Attributes(stream) ?? ((descriptor & 15) > 0 ? "straight" : "unspecified"),
            Unsupported = (isColour && depth >= 24) || (isGrey && depth == 8) ? null : $"TGA of type {type} with {depth} bits",
        };
    }

    /// <summary>The attributes type of the extension area: 3 straight, 4 premultiplied.</summary>
    private static string? Attributes(FileStream stream)
    {
        Span<byte> footer = stackalloc byte[FooterBytes];
        if (stream.Length < HeaderBytes + FooterBytes)
        {
            return null;
        }

        stream.Position = stream.Length - FooterBytes;
        stream.ReadExactly(footer);
        long area = BinaryPrimitives.ReadUInt32LittleEndian(footer);
        if (!footer[8..24].SequenceEqual("TRUEVISION-XFILE"u8) || area == 0 || area + AttributesAt >= stream.Length)
        {
            return null;
        }

        stream.Position = area + AttributesAt;
        return stream.ReadByte() switch
        {
            3 => "straight",
            4 => "premultiplied",
            _ => "unspecified",
        };
    }

    /// <inheritdoc/>
    public override int BandLines => 1;

    /// <inheritdoc/>
    public override bool CanGoOn => !_fromTop;

    /// <inheritdoc/>
    protected override void Fill(int y, int lines, Span<byte> planar, CancellationToken cancel)
    {
        if ((!_fromTop && !TryGoTo(Header.Height - 1 - y, cancel)) || !ReadLine(_line))
        {
            throw new ImageException(Path, _file.Length, "the file ends before its picture does", ImageProblem.Truncated);
        }

        Order(planar);
    }

    /// <inheritdoc/>
    public override void Dispose() { }

    /// <summary>
    /// Goes to the line of a number in the file's own order. Lines of packed pictures are found by walking through the packets once, so
    /// that pictures that begin at the bottom need not
    /// be held. False when the file ends before it.
    /// </summary>
    private bool TryGoTo(int number, CancellationToken cancel)
    {
        if (!_isPacked)
        {
            _at = new Place(_start + (long)number * _line.Length, 0, false);
            return true;
        }

        if (_lines is null)
        {
            _lines = new Place[Header.Height];
            for (_whole = 0; _whole < _lines.Length; _whole++)
            {
                cancel.ThrowIfCancellationRequested();
                _lines[_whole] = _at;
                if (!ReadLine(_line))
                {
                    break;
                }
            }
        }

        _at = _lines[number];
        return number < _whole;
    }

    /// <summary>The next line in the file's own order; packets may cross lines. False at the file's end.</summary>
    private bool ReadLine(Span<byte> line)
    {
        (long at, int left, bool repeats) = _at;
        for (int x = 0; x < line.Length; )
        {
            if (_isPacked && left == 0)
            {
                if (Bytes(at, 1) is not [var packet])
                {
                    return false;
                }

                (left, repeats, at) = ((packet & 0x7f) + 1, (packet & 0x80) != 0, at + 1);
            }

            int pixels = Math.Min(
                    (line.Length - x) / _channels,
                    !_isPacked ? BlockBytes / _channels
                        : repeats ? 1
                        : left
                ),
                bytes = pixels * _channels;
            ReadOnlySpan<byte> found = Bytes(at, bytes);
            if (found.Length < bytes)
            {
                return false;
            }

            found.CopyTo(line[x..]);
            x += bytes;
            left -= _isPacked ? pixels : 0;
            at += repeats && left > 0 ? 0 : bytes;
        }

        _at = new Place(at, left, repeats);
        return true;
    }

    /// <summary>Bytes of the file; fewer at its end.</summary>
    private ReadOnlySpan<byte> Bytes(long at, int count)
    {
        if (at < _blockAt || at + count > _blockAt + _blockBytes)
        {
            (_blockAt, _blockBytes) = (at, 0);
            for (
                int read;
                _blockBytes < _block.Length && (read = RandomAccess.Read(_file.Handle, _block.AsSpan(_blockBytes), at + _blockBytes)) > 0;

            )
            {
                _blockBytes += read;
            }
        }

        return _block.AsSpan((int)(at - _blockAt), (int)Math.Min(count, _blockAt + _blockBytes - at));
    }

    /// <summary>Blue, green, red, alpha → red, green, blue, alpha, one channel after the other; left to right.</summary>
    private void Order(Span<byte> planar)
    {
        int width = Header.Width;
        for (int c = 0; c < _channels; c++)
        {
            int from = c < 3 && _channels >= 3 ? 2 - c : c;
            Span<byte> channel = planar.Slice(c * width, width);
            for (int x = 0; x < width; x++)
            {
                channel[x] = _line[(_fromRight ? width - 1 - x : x) * _channels + from];
            }
        }
    }
}
