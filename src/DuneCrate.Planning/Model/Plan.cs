using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Passes;
using DuneCrate.Planning.Scene;

namespace DuneCrate.Planning.Model;

/// <summary>
/// The pass sheet of one shot: the document <c>dune-crate.plan/1</c>. Immutable; fields that this version does not know are kept
/// in <c>Extra</c> and written again.
/// </summary>
public sealed record Plan
{
    /// <summary>The document's schema name.</summary>
    public const string SchemaName = "dune-crate.plan/1";

    /// <summary>Always <see cref="SchemaName"/>.</summary>
    public string Schema { get; init; } = SchemaName;

    /// <summary>The show.</summary>
    public required ShowPlan Show { get; init; }

    /// <summary>The shot.</summary>
    public required ShotPlan Shot { get; init; }

    /// <summary>What the shot's scene holds; null when nobody has said.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public SceneRoster? Scene { get; init; }

    /// <summary>Render layers, in the order of the ladder: the nearest to the camera first.</summary>
    public ImmutableArray<LayerPlan> Layers { get; init; } = [];

    /// <summary>The passes that may be planned: those that ship, with the show's additions and aliases.</summary>
    [JsonIgnore]
    public PassCatalogue Catalogue => Show.Catalogue;

    /// <summary>The items of the scene; none when nobody has said.</summary>
    [JsonIgnore]
    public ImmutableArray<SceneItem> Items => Scene?.Items ?? [];

    /// <summary>The layer of a name, or null.</summary>
    public LayerPlan? FindLayer(string? name) => Layers.FirstOrDefault(l => l.Name == name);

    /// <summary>Fields of other versions.</summary>
    [JsonExtensionData]
    public Dictionary<string, JsonElement>? Extra { get; init; }
}
