namespace DuneCrate.Exr;

/// <summary>Bounds on what a file may claim, checked before anything is allocated.</summary>
public sealed record ExrLimits
{
    /// <summary>The limits used unless others are given.</summary>
    public static readonly ExrLimits Default = new();

    /// <summary>Bytes of all headers together.</summary>
    public int MaxHeaderBytes { get; init; } = 64 << 20;

    /// <summary>Parts of one file.</summary>
    public int MaxParts { get; init; } = 4096;

    /// <summary>Attributes of one part.</summary>
    public int MaxAttributes { get; init; } = 16384;

    /// <summary>Channels of one part.</summary>
    public int MaxChannels { get; init; } = 8192;

    /// <summary>Pixels of one part's data window.</summary>
    public long MaxPixels { get; init; } = 1L << 31;

    /// <summary>Unpacked bytes of one chunk.</summary>
    public long MaxChunkBytes { get; init; } = 256L << 20;

    /// <summary>How many bytes one packed byte may become, times what a codec adds; DEFLATE itself cannot exceed 1032 (RFC 1951).</summary>
    public int MaxExpansion { get; init; } = 1100;
}
