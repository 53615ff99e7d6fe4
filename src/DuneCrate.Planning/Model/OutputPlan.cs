using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Frames;

namespace DuneCrate.Planning.Model;

/// <summary>One sequence of files, or with <c>{pass}</c> in the template one sequence per pass.</summary>
public sealed record OutputPlan
{
    /// <summary>Name template.</summary>
    public required string Template { get; init; }

    /// <summary>Digits of frame numbers.</summary>
    public int Padding { get; init; } = 4;

    /// <summary>Compression name as in OpenEXR, lower case.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Compression { get; init; }

    /// <summary>Frames, when they differ from the layer's.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public FrameSet? Frames { get; init; }

    /// <summary>Passes in the files.</summary>
    public ImmutableArray<PassPlan> Passes { get; init; } = [];

    /// <summary>Whether every pass gets a file of its own.</summary>
    [JsonIgnore]
    public bool IsPerPass => Template.Contains("{pass}", StringComparison.Ordinal);

    /// <summary>Fields of other versions.</summary>
    [JsonExtensionData]
    public Dictionary<string, JsonElement>? Extra { get; init; }
}
