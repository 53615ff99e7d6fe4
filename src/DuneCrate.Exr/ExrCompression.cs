using DuneCrate.Exr.Codecs;

namespace DuneCrate.Exr;

/// <summary>
/// A way of packing chunks: its number in files, name, lines per scan-line chunk, and the codec when this product has one.
/// Source: <em>OpenEXR File Layout</em>, compression. To add a codec, write it in Codecs/ and name it in the table here.
/// </summary>
public sealed record ExrCompression(byte Code, string Name, int LinesPerChunk, bool IsLossy, IExrCodec? Codec)
{
    /// <summary>Every compression of the published format, in the order of its number in files.</summary>
    public static readonly IReadOnlyList<ExrCompression> All =
    [
        new(0, "none", 1, false, new NoneCodec()),
        new(1, "rle", 1, false, new RleCodec()),
        new(2, "zips", 1, false, new ZipCodec()),
        new(3, "zip", 16, false, new ZipCodec()),
        new(4, "piz", 32, false, new PizCodec()),
        new(5, "pxr24", 16, true, new Pxr24Codec()),
        new(6, "b44", 32, true, new B44Codec()),
        new(7, "b44a", 32, true, new B44Codec()),
        new(8, "dwaa", 32, true, new DwaCodec()),
        new(9, "dwab", 256, true, new DwaCodec()),
    ];

    /// <summary>No compression.</summary>
    public static ExrCompression None => All[0];

    /// <summary>zlib over 16 lines, the usual choice.</summary>
    public static ExrCompression Zip => All[3];

    /// <summary>Whether this product writes it.</summary>
    public bool IsWritten => Codec?.CanEncode == true;

    /// <summary>The compression of a name in plans and facts, or null.</summary>
    public static ExrCompression? Find(string? name) => All.FirstOrDefault(c => c.Name == name);

    /// <summary>The compression of a number in a file; a number of a later format gets a name that says so.</summary>
    public static ExrCompression OfCode(byte code) =>
        code < All.Count ? All[code] : new ExrCompression(code, $"number {code}", 256, true, null);
}
