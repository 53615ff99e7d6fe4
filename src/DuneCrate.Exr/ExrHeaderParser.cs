using System.Buffers.Binary;
using System.Collections.Immutable;
using System.Text;

namespace DuneCrate.Exr;

/// <summary>
/// Reads magic number, version and headers. Every length is checked against the bytes at hand and the limits before it is used.
/// Source: <em>OpenEXR File Layout</em>. One instance per attempt; not shared between threads.
/// </summary>
internal ref struct ExrHeaderParser(string path, ReadOnlySpan<byte> bytes, bool isWholeFile, ExrLimits limits)
{
    public const int Magic = 20000630;
    private const uint MaxTileSide = 1 << 20;
    private const int TiledFlag = 0x200,
        LongNamesFlag = 0x400,
        DeepFlag = 0x800,
        MultiPartFlag = 0x1000;

    private readonly ReadOnlySpan<byte> _bytes = bytes;
    private int _at;

    /// <summary>Thrown inside when the bytes at hand end before the headers do and the file goes on.</summary>
    public sealed class NeedsMoreException : Exception;

    /// <summary>Whether the file has part numbers before its chunks.</summary>
    public bool IsMultiPart { get; private set; }

    /// <summary>Where the chunk tables begin, after <see cref="Parse"/>.</summary>
    public readonly int End => _at;

    public ImmutableArray<ExrPart> Parse()
    {
        if (_bytes.Length < 8 || BinaryPrimitives.ReadInt32LittleEndian(_bytes) != Magic)
        {
            throw Problem("this is not an OpenEXR file: it does not begin with the bytes 76 2f 31 01");
        }

        int version = BinaryPrimitives.ReadInt32LittleEndian(_bytes[4..]);
        _at = 8;
        if ((version & 0xff) != 2 || (version & ~(0xff | TiledFlag | LongNamesFlag | DeepFlag | MultiPartFlag)) != 0)
        {
            throw Problem($"version {version & 0xff} with flags {version >> 8:x} of OpenEXR is not known", ImageProblem.Unsupported);
        }

        IsMultiPart = (version & MultiPartFlag) != 0;
        string singleType =
            (version & DeepFlag) != 0 ? "deepscanline"
            : (version & TiledFlag) != 0 ? "tiledimage"
            : "scanlineimage";
        var parts = ImmutableArray.CreateBuilder<ExrPart>();
        while (!IsMultiPart ? parts.Count == 0 : Peek() != 0)
        {
            if (parts.Count == limits.MaxParts)
            {
                throw Problem($"the file has more than {limits.MaxParts} parts");
            }

            parts.Add(ParsePart(parts.Count, singleType));
        }

        if (IsMultiPart)
        {
            _at++;
        }

        return parts.Count > 0 ? parts.ToImmutable() : throw Problem("the file has no part");
    }

    private ExrPart ParsePart(int index, string singleType)
    {
        var attributes = ImmutableArray.CreateBuilder<ExrAttribute>();
        while (Peek() != 0)
        {
            if (attributes.Count == limits.MaxAttributes)
            {
                throw Problem($"a header has more than {limits.MaxAttributes} attributes");
            }

            string name = Name(),
                type = Name();
            int size = Int();
            if (size < 0 || size > limits.MaxHeaderBytes)
            {
                throw Problem($"the attribute '{Printable(name)}' claims {size} bytes");
            }

            attributes.Add(new ExrAttribute(name, type, Take(size).ToArray()));
        }

        _at++;
        return MakePart(index, singleType, attributes.ToImmutable());
    }

    /// <summary>
    /// Corners within half of what an int holds, as the reference library asks, so that arithmetic on coordinates never overflows.
    /// </summary>
    private static bool IsNear(PixelBox box) => box.MinX > -(1 << 30) && box.MinY > -(1 << 30) && box.MaxX < 1 << 30 && box.MaxY < 1 << 30;

    private readonly ExrPart MakePart(int index, string singleType, ImmutableArray<ExrAttribute> attributes)
    {
        PixelBox data = Required(attributes, "dataWindow").AsBox() ?? throw Problem("the data window is not a box2i");
        PixelBox display = Required(attributes, "displayWindow").AsBox() ?? throw Problem("the display window is not a box2i");
        ReadOnlySpan<byte> compression = Required(attributes, "compression").Value.Span,
            order = Required(attributes, "lineOrder").Value.Span;
        if (compression.Length != 1 || order.Length != 1 || order[0] > 2)
        {
            throw Problem("compression or line order is not a known value");
        }

        if (!IsNear(data) || !IsNear(display))
        {
            throw Problem("a window lies farther out than any picture reaches");
        }

        if (data.IsEmpty || data.Width > int.MaxValue / 2 || data.Height > int.MaxValue / 2 || data.Width * data.Height > limits.MaxPixels)
        {
            throw Problem($"the data window claims {data.Width} × {data.Height} pixels");
        }

        // In a file of one part the flags decide, as in the reference library; of deep ones they do not say whether there are tiles.
        string type = attributes.FirstOrDefault(a => a.Name == "type")?.AsText() ?? singleType;
        type = IsMultiPart || (type == "deeptile" && singleType == "deepscanline") ? type : singleType;
        var part = new ExrPart(
            Channels(Required(attributes, "channels")),
            display,
            data,
            ExrCompression.OfCode(compression[0]),
            (ExrLineOrder)order[0],
            attributes
        )
        {
            Index = index,
            Tiling = type is "tiledimage" or "deeptile" ? Tiling(Required(attributes, "tiles")) : null,
            Name = attributes.FirstOrDefault(a => a.Name == "name")?.AsText(),
            Type = type,
            PixelAspectRatio = attributes.FirstOrDefault(a => a.Name == ExrNumbers.AspectName)?.AsFloat() ?? 1,
        };
        if (
            part.IsSubsampled
            && (part.Tiling is not null || part.Channels.Any(c => data.MinX % c.XSampling != 0 || data.MinY % c.YSampling != 0))
        )
        {
            throw Problem("subsampled channels stand on another grid than the data window, or in tiles");
        }

        try
        {
            _ = part.Chunks.Count;
        }
        catch (OverflowException)
        {
            throw Problem($"the data window of {data.Width} × {data.Height} pixels is cut into more chunks than a file can have");
        }

        return part;
    }

    /// <summary>
    /// Width and height of tiles as two 32-bit numbers, then level mode in the low and rounding in the high half of a byte.
    /// </summary>
    private readonly ExrTiling Tiling(ExrAttribute attribute)
    {
        ReadOnlySpan<byte> value = attribute.Value.Span;
        if (attribute.Type != "tiledesc" || value.Length != 9)
        {
            throw Problem("the tile description is not a tiledesc");
        }

        uint width = BinaryPrimitives.ReadUInt32LittleEndian(value),
            height = BinaryPrimitives.ReadUInt32LittleEndian(value[4..]);
        int mode = value[8] & 15,
            rounding = value[8] >> 4;
        return width is >= 1 and <= MaxTileSide && height is >= 1 and <= MaxTileSide && mode <= 2 && rounding <= 1
            ? new ExrTiling((int)width, (int)height, (ExrLevelMode)mode, rounding == 1)
            : throw Problem($"tiles of {width} × {height} pixels, or their levels, are not possible");
    }

    private readonly ExrAttribute Required(ImmutableArray<ExrAttribute> attributes, string name) =>
        attributes.FirstOrDefault(a => a.Name == name) ?? throw Problem($"the header has no {name}");

    private readonly ImmutableArray<ExrChannel> Channels(ExrAttribute list)
    {
        var channels = ImmutableArray.CreateBuilder<ExrChannel>();
        ReadOnlySpan<byte> rest = list.Value.Span;
        var names = new HashSet<string>(StringComparer.Ordinal);
        while (!rest.IsEmpty && rest[0] != 0)
        {
            int zero = rest.IndexOf((byte)0);
            if (zero < 0 || rest.Length < zero + 17 || channels.Count == limits.MaxChannels)
            {
                throw Problem("the channel list ends inside an entry or is too long");
            }

            string name = Encoding.UTF8.GetString(rest[..zero]);
            ReadOnlySpan<byte> entry = rest.Slice(zero + 1, 16);
            int type = BinaryPrimitives.ReadInt32LittleEndian(entry);
            int xSampling = BinaryPrimitives.ReadInt32LittleEndian(entry[8..]),
                ySampling = BinaryPrimitives.ReadInt32LittleEndian(entry[12..]);
            if (type is < 0 or > 2 || xSampling < 1 || ySampling < 1 || !names.Add(name))
            {
                throw Problem($"the channel '{Printable(name)}' has an unknown type or sampling, or stands twice");
            }

            channels.Add(
                new ExrChannel(
                    name,
                    type switch
                    {
                        0 => ExrPixelType.UInt,
                        1 => ExrPixelType.Half,
                        _ => ExrPixelType.Float,
                    },
                    xSampling,
                    ySampling,
                    entry[4] != 0
                )
            );
            rest = rest[(zero + 17)..];
        }

        return channels.Count > 0 ? channels.ToImmutable() : throw Problem("the header lists no channel");
    }

    private string Name()
    {
        int length = _bytes[_at..].IndexOf((byte)0);
        if (length is > 255 or < 0)
        {
            if (length < 0 && _bytes.Length - _at <= 255)
            {
                throw EndsEarly();
            }

            throw Problem("a name in the header is longer than 255 bytes");
        }

        string name = Encoding.UTF8.GetString(_bytes.Slice(_at, length));
        _at += length + 1;
        return name;
    }

    private int Int() => BinaryPrimitives.ReadInt32LittleEndian(Take(4));

    private readonly byte Peek() => _at < _bytes.Length ? _bytes[_at] : throw EndsEarly();

    private ReadOnlySpan<byte> Take(int count)
    {
        if (count > _bytes.Length - _at)
        {
            throw EndsEarly();
        }

        _at += count;
        return _bytes.Slice(_at - count, count);
    }

    private readonly Exception EndsEarly() =>
        isWholeFile ? Problem("the file ends inside its header", ImageProblem.Truncated)
        : _bytes.Length >= limits.MaxHeaderBytes ? Problem($"the header is longer than {limits.MaxHeaderBytes} bytes")
        : new NeedsMoreException();

    internal static string Printable(string text) => string.Concat(text.Take(40).Select(c => char.IsControl(c) ? '?' : c));

    private readonly ImageException Problem(string reason, ImageProblem problem = ImageProblem.Unreadable) =>
        new(path, _at, reason, problem);
}
