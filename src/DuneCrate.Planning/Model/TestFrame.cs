using System.Text.Json;
using System.Text.Json.Serialization;

namespace DuneCrate.Planning.Model;

/// <summary>One frame rendered before all others: checked, and its size and time multiplied out.</summary>
public sealed record TestFrame
{
    /// <summary>The frame; common practice is the last one.</summary>
    public int Frame { get; init; }

    /// <summary>Width and height over the shot's: 0.5 is half size.</summary>
    public double Scale { get; init; } = 1;

    /// <summary>Bytes of its files, by output name as in reports; null until they came.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public OrderedDictionary<string, long>? Bytes { get; init; }

    /// <summary>
    /// Packed over raw bytes of each pass, by "layer/pass": what is left of a measurement when passes move to other files.
    /// </summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public OrderedDictionary<string, double>? Ratios { get; init; }

    /// <summary>Seconds that one machine took, by layer; null until somebody or a header said.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public OrderedDictionary<string, double>? Seconds { get; init; }

    /// <summary>The findings of its check that block; null until it was checked.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public int? Blockers { get; init; }

    /// <summary>Fields of other versions.</summary>
    [JsonExtensionData]
    public Dictionary<string, JsonElement>? Extra { get; init; }
}
