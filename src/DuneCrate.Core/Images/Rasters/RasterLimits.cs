namespace DuneCrate.Core.Images.Rasters;

/// <summary>Bounds on what pictures other than OpenEXR may claim.</summary>
public sealed record RasterLimits
{
    /// <summary>The limits used unless others are given.</summary>
    public static readonly RasterLimits Default = new();

    /// <summary>Pixels of a picture.</summary>
    public long MaxPixels { get; init; } = 1L << 28;

    /// <summary>Pixels across.</summary>
    public int MaxWidth { get; init; } = 1 << 18;

    /// <summary>Bytes that a decoder may have to hold at once: files that must be unpacked as a whole are not read beyond it.</summary>
    public long MaxHeldBytes { get; init; } = 256L << 20;
}
