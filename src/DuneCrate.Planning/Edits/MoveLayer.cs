using System.Text.Json.Serialization;
using DuneCrate.Planning.Model;

namespace DuneCrate.Planning.Edits;

/// <summary>Moves a layer in the order of the ladder: by −1 nearer to the camera, by 1 farther away.</summary>
public sealed record MoveLayer(string Layer, int By) : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Description => $"layer {Layer} moved";

    /// <inheritdoc/>
    protected override Plan Change(Plan plan)
    {
        LayerPlan layer = plan.FindLayer(Layer) ?? throw new PlanEditException("layer", $"There is no layer {Layer} any more.");
        int from = plan.Layers.IndexOf(layer),
            to = Math.Clamp(from + By, 0, plan.Layers.Length - 1);
        return plan with { Layers = plan.Layers.RemoveAt(from).Insert(to, layer) };
    }
}
