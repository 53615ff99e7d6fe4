using System.Text.Json.Serialization;
using DuneCrate.Planning.Model;

namespace DuneCrate.Planning.Edits;

/// <summary>Copies a layer with all its passes and roles; the copy stands behind it.</summary>
public sealed record DuplicateLayer(string Layer, string Name) : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Description => $"layer {Layer} copied to {Name}";

    /// <inheritdoc/>
    protected override Plan Change(Plan plan)
    {
        LayerNames.Check(plan, Name);
        LayerPlan layer = plan.FindLayer(Layer) ?? throw new PlanEditException("layer", $"There is no layer {Layer} any more.");
        return plan with { Layers = plan.Layers.Insert(plan.Layers.IndexOf(layer) + 1, LayerNames.Renamed(layer, Layer, Name)) };
    }
}
