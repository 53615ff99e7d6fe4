using System.Text.Json.Serialization;
using DuneCrate.Core.Passes;
using DuneCrate.Core.Planning.Merging;
using DuneCrate.Core.Planning.Model;
using DuneCrate.Core.Planning.Sheet;

namespace DuneCrate.Core.Planning.Edits;

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
