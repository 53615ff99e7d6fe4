using System.Collections.Immutable;
using DuneCrate.Foundation.Passes;

namespace DuneCrate.Imaging.Rasters;

/// <summary>What the header of a picture that is not OpenEXR says.</summary>
public sealed record RasterHeader
{
    /// <summary>png, tiff, jpeg or tga: by content.</summary>
    public required string Format { get; init; }

    /// <summary>Pixels across.</summary>
    public required int Width { get; init; }

    /// <summary>Pixels down.</summary>
    public required int Height { get; init; }

    /// <summary>Type of every sample; 8- and 16-bit ones stand for 0..1.</summary>
    public required ChannelType Type { get; init; }

    /// <summary>
    /// Names in the order in which a pixel's samples lie: R G B A, Y A, C M Y K, and extra1 … for what the format does not name.
    /// </summary>
    public required ImmutableArray<string> Channels { get; init; }

    /// <summary>Compression in the format's own words, lower case.</summary>
    public required string Compression { get; init; }

    /// <summary>image, strips or tiles.</summary>
    public string Storage { get; init; } = "image";

    /// <summary>premultiplied, straight or unspecified; null without alpha.</summary>
    public string? Alpha { get; init; }

    /// <summary>Width of a pixel over its height.</summary>
    public double PixelAspectRatio { get; init; } = 1;

    /// <summary>Further pictures in the file, which are not checked.</summary>
    public int FurtherPictures { get; init; }

    /// <summary>Where the file says that its alpha is associated: the offset of the byte that holds 1; null when it does not.</summary>
    internal long? AssociatedAt { get; init; }

    /// <summary>Bytes of a pixel: every channel.</summary>
    internal int PixelBytes => Channels.Length * Type.Bytes();

    /// <summary>
    /// Bytes that a decoder must hold at once beside the lines it gives: the whole picture of interlaced and progressive files, a strip of
    /// others.
    /// </summary>
    internal long HeldBytes { get; init; }

    /// <summary>Why the pixels are not read, or null when they are.</summary>
    public string? Unsupported { get; init; }
}
