using System.Collections.Immutable;
using System.Text.Json.Serialization;

namespace DuneCrate.Core.Intake.Measures;

/// <summary>
/// What the pixels of one pass say beyond the statistics of its channels: measured while the file is decoded, so that no rule has to open it again.
/// What does not concern the pass is null.
/// </summary>
public sealed record PassFacts
{
    /// <summary>Key of the pass, by the channels' names.</summary>
    public required string Pass { get; init; }

    /// <summary>Lone bright pixels of colour and light.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public FireflyFacts? Fireflies { get; init; }

    /// <summary>How colour goes with alpha.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public AlphaFacts? Alpha { get; init; }

    /// <summary>Distances and their edges.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public DepthFacts? Depth { get; init; }

    /// <summary>Lengths of normals.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public NormalFacts? Normal { get; init; }

    /// <summary>The ground of a pass that is multiplied.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public GroundFacts? Ground { get; init; }

    /// <summary>The ids or flat colours met.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public IdFacts? Ids { get; init; }

    /// <summary>Ranks and coverage of a Cryptomatte.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public CryptoFacts? Crypto { get; init; }

    /// <summary>A tiny picture and samples of its noise.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public PictureFacts? Picture { get; init; }

    /// <summary>Where the pass covers the picture: mean coverage of 32 × 18 blocks, row by row from the top, 0..255.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public byte[]? Coverage { get; init; }
}

/// <summary>Pixels above 8 × the median of their eight neighbours and above the frame's 99.9th percentile.</summary>
/// <param name="Count">How many.</param>
/// <param name="Worst">Value of the brightest.</param>
/// <param name="At">Its x and y, or null.</param>
public sealed record FireflyFacts(long Count, double Worst, int[]? At);

/// <summary>How colour goes with alpha.</summary>
/// <param name="Empty">Pixels whose alpha is 0.</param>
/// <param name="Lit">Those of them with colour above 0.001 that is neither emission nor reflection.</param>
/// <param name="Soft">Pixels whose alpha is between 0.02 and 0.98.</param>
/// <param name="Above">Those of them whose colour exceeds their alpha.</param>
/// <param name="At">x and y of the first lit one, or null.</param>
public sealed record AlphaFacts(long Empty, long Lit, long Soft, long Above, int[]? At);

/// <summary>Distances of a depth pass, in scene units.</summary>
/// <param name="Background">The distance that stands for nothing being there, or null when none does.</param>
/// <param name="BackgroundPixels">Pixels at it.</param>
/// <param name="Nearest">The least distance.</param>
/// <param name="Farthest">The greatest below the background, within 1/128 of itself.</param>
/// <param name="Edges">Pixels between two flat neighbourhoods of different distance.</param>
/// <param name="Between">Those of them that lie on neither side.</param>
/// <param name="At">x and y of the first of those, or null.</param>
public sealed record DepthFacts(
    double? Background,
    long BackgroundPixels,
    double Nearest,
    double Farthest,
    long Edges,
    long Between,
    int[]? At
);

/// <summary>Lengths of normals.</summary>
/// <param name="Covered">Pixels with a length of at least one half: a surface is there.</param>
/// <param name="Off">Those of them whose length is off 1 by more than 2 %.</param>
/// <param name="MeanLength">Mean length of the covered ones.</param>
/// <param name="At">x and y of the first that is off, or null.</param>
public sealed record NormalFacts(long Covered, long Off, double MeanLength, int[]? At);

/// <summary>The ground of a pass that is multiplied over others: white where nothing is.</summary>
/// <param name="Empty">Pixels that the file's alpha leaves empty; null without alpha in the file.</param>
/// <param name="Dark">Those of them below 0.98.</param>
/// <param name="White">Pixels of at least 0.98 altogether.</param>
/// <param name="At">x and y of the first dark one, or null.</param>
public sealed record GroundFacts(long? Empty, long Dark, long White, int[]? At);

/// <summary>The ids or flat colours of an identity pass.</summary>
/// <param name="Ids">The values met and their pixels, most frequent first, at most 256.</param>
/// <param name="HasMore">Whether there are more than those.</param>
/// <param name="Fractional">Pixels whose id is no whole number.</param>
/// <param name="Between">Pixels between two different ids that are neither.</param>
/// <param name="At">x and y of the first of those, or null.</param>
public sealed record IdFacts(ImmutableArray<IdCount> Ids, bool HasMore, long Fractional, long Between, int[]? At);

/// <summary>A value and the pixels that have it: a number, three numbers joined by spaces, or the eight hexadecimal digits of a Cryptomatte id.</summary>
public sealed record IdCount(string Value, long Pixels);

/// <summary>Ranks of a Cryptomatte.</summary>
/// <param name="Rising">Pixels where a later rank covers more than an earlier one.</param>
/// <param name="Over">Pixels whose coverages sum to more than 1.001.</param>
/// <param name="WorstSum">The greatest sum.</param>
/// <param name="Ids">The ids met and their pixels, most frequent first, at most 4,096.</param>
/// <param name="HasMore">Whether there are more than those.</param>
/// <param name="At">x and y of the first pixel that is wrong, or null.</param>
public sealed record CryptoFacts(long Rising, long Over, double WorstSum, ImmutableArray<IdCount> Ids, bool HasMore, int[]? At);

/// <summary>A tiny picture of 32 × 18 blocks, row by row from the top, to tell whether a picture moves; and eight samples of its noise in each block.</summary>
/// <param name="Blocks">Mean of red, green and blue in each block: binary16, little-endian.</param>
/// <param name="Noise">Green less the mean of its two neighbours, over the block's own brightness, at fixed places: −127..127 stand for −0.25..0.25.</param>
public sealed record PictureFacts(byte[] Blocks, byte[] Noise);
