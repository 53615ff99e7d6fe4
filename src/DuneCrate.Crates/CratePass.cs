using System.Collections.Immutable;
using System.Text.Json.Serialization;
using DuneCrate.Crates.Converting;
using DuneCrate.Crates.Describing;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging;

namespace DuneCrate.Crates;

/// <summary>One pass of a crate.</summary>
public sealed record CratePass
{
    /// <summary>Key of the pass.</summary>
    public required string Pass { get; init; }

    /// <summary>Name for people.</summary>
    public required string TradeName { get; init; }

    /// <summary>Its render layer.</summary>
    public required string Layer { get; init; }

    /// <summary>The files, with one <c>#</c> per digit, relative to the crate.</summary>
    public required string Files { get; init; }

    /// <summary>Name of its part; null in files of one part.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Part { get; init; }

    /// <summary>The frames there are.</summary>
    public required FrameSet Frames { get; init; }

    /// <summary>sequence or still.</summary>
    public required string Extent { get; init; }

    /// <summary>Channels with their types.</summary>
    public required OrderedDictionary<string, ChannelType> Channels { get; init; }

    /// <summary>none, straight or premultiplied.</summary>
    public required AlphaMode Alpha { get; init; }

    /// <summary>scene-linear for colour, raw for what is not colour.</summary>
    public required string ColourSpace { get; init; }

    /// <summary>Kind of pass.</summary>
    public required PassKind Kind { get; init; }

    /// <summary>over, plus, multiply or none.</summary>
    public required string Operation { get; init; }

    /// <summary>0..1; 0 for passes that are not seen.</summary>
    public required double Opacity { get; init; }

    /// <summary>Place in the stack from the bottom, from 1; null for passes that are not stacked.</summary>
    public int? Place { get; init; }

    /// <summary>What to know about it.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Remark { get; init; }

    /// <summary>What its pixels say that one types in or picks from; null for nothing.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public PassMeasured? Measured { get; init; }

    /// <summary>Unit of its samples; null where they have none.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Unit { get; init; }

    /// <summary>Name of the rendered files that it was made of; null for copies.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Was { get; init; }

    /// <summary>What was done to it, in words; null when it was not changed.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public ImmutableArray<string>? Done { get; init; }

    /// <summary>How far its halves are from the floats that they were made of; null when none were.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public HalfLoss? Loss { get; init; }
}
