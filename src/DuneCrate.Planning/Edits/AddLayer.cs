using System.Text.Json.Serialization;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging;
using DuneCrate.Planning.Merging;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Sheet;

namespace DuneCrate.Planning.Edits;

/// <summary>Adds a layer with a beauty, or one that is based on another.</summary>
public sealed record AddLayer(string Name, AlphaMode Alpha = AlphaMode.Premultiplied, string? BasedOn = null) : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Description => BasedOn is null ? $"layer {Name} added" : $"layer {Name} added, based on {BasedOn}";

    /// <inheritdoc/>
    protected override Plan Change(Plan plan)
    {
        LayerNames.Check(plan, Name);
        var layer = new LayerPlan { Name = Name, Alpha = Alpha };
        layer = BasedOn is null
            ? PassSheet.Write(plan, layer, PassKeys.Beauty, SheetCell.Planned)
            : PlanMerge.Base(
                layer,
                plan.FindLayer(BasedOn) ?? throw new PlanEditException("basedOn", $"There is no layer {BasedOn} to base it on.")
            );
        return plan with { Layers = plan.Layers.Add(layer) };
    }
}
