using System.Text.Json.Serialization;
using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Checking.Intake.Measures;

/// <summary>
/// What the pixels of one pass say beyond the statistics of its channels: measured while the file is decoded, so that no rule has to open
/// it again.
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

    /// <summary>Cryptomatte coverage is off of a Cryptomatte.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public CryptoFacts? Crypto { get; init; }

    /// <summary>A tiny picture and samples of its noise.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public PictureFacts? Picture { get; init; }

    /// <summary>Where the pass covers the picture: mean coverage of 32 × 18 blocks, row by row from the top, 0..255.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public byte[]? Coverage { get; init; }
}
