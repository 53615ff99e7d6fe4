using System.Collections.Immutable;
using System.Text.Json.Serialization;
using DuneCrate.Planning.Model;

namespace DuneCrate.Planning.Edits;

/// <summary>Replaces the list of what is changed in the scene for a layer.</summary>
public sealed record SetChanges(string Layer, ImmutableArray<LayerChange> Changes) : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Description => $"changes for {Layer} listed anew";

    /// <inheritdoc/>
    protected override Plan Change(Plan plan) =>
        ChangeLayer(
            plan,
            Layer,
            layer =>
                layer with
                {
                    Changes =
                        Changes.IsDefaultOrEmpty ? null
                        : Changes.All(c => c.What.Trim().Length > 0) ? Changes
                        : throw new PlanEditException("changes", "Say what is changed, such as material override."),
                }
        );
}
