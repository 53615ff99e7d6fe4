using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging;

namespace DuneCrate.Planning.Model;

/// <summary>One render layer.</summary>
public sealed record LayerPlan
{
    /// <summary>Name, used in paths.</summary>
    public required string Name { get; init; }

    /// <summary>Whether the layer is kept and not rendered now.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool Off { get; init; }

    /// <summary>What it is grouped under, such as background or foreground; null for none.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Group { get; init; }

    /// <summary>
    /// The layer that this one follows but for its differences; null for none. What is written here is always the whole layer.
    /// </summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? BasedOn { get; init; }

    /// <summary>Frames, when they differ from the shot's.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public FrameSet? Frames { get; init; }

    /// <summary>How the beauty's alpha is to be read.</summary>
    public AlphaMode Alpha { get; init; }

    /// <summary>The pass that stands for the layer; null for the beauty.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Lead { get; init; }

    /// <summary>The light passes that must sum to the beauty; empty when none do.</summary>
    public ImmutableArray<RebuildTerm> Rebuild { get; init; } = [];

    /// <summary>How items of the scene take part; an item that is not named is shown.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public OrderedDictionary<string, ItemRole>? Roles { get; init; }

    /// <summary>What is changed in the scene for this layer.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public ImmutableArray<LayerChange>? Changes { get; init; }

    /// <summary>Render settings that differ from the show's, by name.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public OrderedDictionary<string, string>? Settings { get; init; }

    /// <summary>Files that the layer puts out.</summary>
    public ImmutableArray<OutputPlan> Outputs { get; init; } = [];

    /// <summary>Every pass, those that are off included, in the order of the outputs.</summary>
    [JsonIgnore]
    public IEnumerable<PassPlan> AllPasses => Outputs.SelectMany(o => o.Passes);

    /// <summary>The passes that are rendered: none when the layer is off.</summary>
    [JsonIgnore]
    public IEnumerable<PassPlan> Passes => Off ? [] : AllPasses.Where(p => !p.Off);

    /// <summary>The pass that stands for the layer: the named one, else the beauty, else the first; null without passes.</summary>
    [JsonIgnore]
    public string? LeadPass =>
        AllPasses.FirstOrDefault(p => p.Pass == Lead)?.Pass
        ?? AllPasses.FirstOrDefault(p => p.Pass == PassKeys.Beauty)?.Pass
        ?? AllPasses.FirstOrDefault()?.Pass;

    /// <summary>The pass of a key, off or not; null when it is not planned.</summary>
    public PassPlan? FindPass(string pass) => AllPasses.FirstOrDefault(p => p.Pass == pass);

    /// <summary>How an item takes part.</summary>
    public ItemRole RoleOf(string item) => Roles?.TryGetValue(item, out ItemRole role) == true ? role : ItemRole.Shown;

    /// <summary>Fields of other versions.</summary>
    [JsonExtensionData]
    public Dictionary<string, JsonElement>? Extra { get; init; }
}
