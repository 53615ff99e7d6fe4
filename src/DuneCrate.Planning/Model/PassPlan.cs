using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Passes;

namespace DuneCrate.Planning.Model;

/// <summary>One pass and the channels it is stored in.</summary>
public sealed record PassPlan
{
    /// <summary>Key in the catalogue.</summary>
    public required string Pass { get; init; }

    /// <summary>
    /// What <c>{pass}</c> stands for in names of files, when that is not the key: the name that the plan first gave the pass.
    /// </summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? FileWord { get; init; }

    /// <summary>Channel names with their types, in the order shown.</summary>
    public OrderedDictionary<string, ChannelType> Channels { get; init; } = [];

    /// <summary>Whether the pass is kept and not rendered now.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool Off { get; init; }

    /// <summary>Whether samples are filtered into pixels, when it differs from the catalogue.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public bool? Filtered { get; init; }

    /// <summary>For data and identity: the coverage (0..1) from which on a soft edge counts as surface; null when not said.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public double? Threshold { get; init; }

    /// <summary>For distances: the nearest there should be, in scene units; null when not said.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public double? Near { get; init; }

    /// <summary>For distances: the farthest there should be, what stands for the background left aside; null when not said.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public double? Far { get; init; }

    /// <summary>Frames, when they differ from the output's; only a file of its own can have others.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public FrameSet? Frames { get; init; }

    /// <summary>For mattes: the mask in each channel, by channel name. Items say into which mask they go.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public OrderedDictionary<string, string>? Masks { get; init; }

    /// <summary>For object ids: the ids that are asked for; null for every id of the scene.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public FrameSet? Ids { get; init; }

    /// <summary>A key as it goes into names of files.</summary>
    public static string WordOf(string key) => key.Replace('.', '_');

    /// <summary>Fields of other versions.</summary>
    [JsonExtensionData]
    public Dictionary<string, JsonElement>? Extra { get; init; }
}
