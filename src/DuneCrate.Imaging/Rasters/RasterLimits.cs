namespace DuneCrate.Imaging.Rasters;

/// <summary>Bounds on what pictures other than OpenEXR may claim.</summary>
public sealed record RasterLimits
{
    /// <summary>The limits used unless others are given.</summary>
    public static readonly RasterLimits Default = new();

    /// <summary>Pixels of a picture.</summary>
    public long MaxPixels { get; init; } = 1L << 28;

    /// <summary>Pixels across.</summary>
    public int MaxWidth { get; init; } = 1 << 18;

    /// <summary>
    /// Bytes that one byte of a file may become, beyond <see cref="FreeBytes"/>. An empty 4K frame is well below; what is far above was
    /// made to cost time.
    /// </summary>
    public int MaxExpansion { get; init; } = 4096;

    /// <summary>Unpacked bytes that any file may have, however small it is.</summary>
    public long FreeBytes { get; init; } = 64L << 20;

    /// <summary>Bytes that a decoder may have to hold at once: files that must be unpacked as a whole are not read beyond it.</summary>
    public long MaxHeldBytes { get; init; } = 256L << 20;
}
