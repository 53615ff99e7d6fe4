using System.Text.Json.Serialization;
using DuneCrate.Planning.Model;

namespace DuneCrate.Planning.Edits;

/// <summary>Takes a layer out. Layers based on it stay as they are, on their own.</summary>
public sealed record RemoveLayer(string Layer) : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Description => $"layer {Layer} removed";

    /// <inheritdoc/>
    protected override Plan Change(Plan plan) => plan with { Layers = plan.Layers.RemoveAll(l => l.Name == Layer) };
}
