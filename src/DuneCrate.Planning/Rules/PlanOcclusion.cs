using System.Collections.Immutable;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Scene;
using DuneCrate.Planning.Sheet;

namespace DuneCrate.Planning.Rules;

/// <summary>
/// Transparent or cut-out items shown in an occlusion pass, which they darken wrongly; global illumination left on for it. Common practice:
/// occlusion is rendered in a layer of its own with global illumination off.
/// </summary>
/// <remarks>Source: common practice.</remarks>
public sealed class PlanOcclusion : SceneRule
{
    public override string Id => "plan.occlusion";

    public override string Title => "Occlusion will be wrong";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Transparent or cut-out items in an occlusion pass; global illumination left on for it";

    public override IEnumerable<PlanFinding> Check(PlanContext context)
    {
        ImmutableArray<ItemTrait> spoiling = context.Plan.Catalogue.Find(PassKeys.Occlusion)?.SpoiltBy ?? [];
        foreach (LayerPlan layer in context.Layers.Where(l => l.Passes.Any(p => p.Pass == PassKeys.Occlusion)))
        {
            SceneItem[] wrong = [.. Seen(context.Plan, layer).Where(i => spoiling.Any(i.Is))];
            if (wrong.Length > 0)
            {
                bool isAlone = layer.Passes.All(p => p.Pass == PassKeys.Occlusion);
                yield return Found(
                    layer.Name,
                    PassKeys.Occlusion,
                    "roles",
                    $"{Words.List(wrong.Select(i => i.Name))} {Words.Are(wrong.Length)} transparent or cut out and "
                        + $"{(wrong.Length == 1 ? "darkens" : "darken")} "
                        + $"the occlusion of {layer.Name} as if solid.",
                    isAlone
                        ? $"Hide {Words.Them(wrong.Length)} in this layer."
                        : $"Render the occlusion in a layer of its own, without {Words.Them(wrong.Length)}.",
                    isAlone
                        ? new SetRoles([.. wrong.Select(i => i.Name)], [layer.Name], ItemRole.Hidden)
                        : Apart(context.Plan, layer, wrong)
                );
            }

            bool isOff =
                RenderSettings.IsOn(context.Plan, layer, "global_illumination") == false
                || layer.Changes?.Any(c => c.What == LayerChange.GlobalIlluminationOff) == true;
            if (!isOff && RenderSettings.IsOn(context.Plan, layer, "global_illumination") == true)
            {
                yield return Found(
                    layer.Name,
                    PassKeys.Occlusion,
                    "global_illumination",
                    $"Global illumination is on while {layer.Name} renders occlusion.",
                    "Switch it off for a layer that only renders occlusion.",
                    layer.Passes.All(p => p.Pass == PassKeys.Occlusion)
                        ? new SetSettings([layer.Name], "global_illumination", "no")
                        : Apart(context.Plan, layer, wrong)
                );
            }
        }
    }

    /// <summary>A layer based on this one that renders nothing but the occlusion; when there is one, the pass goes there.</summary>
    private static PlanEdit Apart(Plan plan, LayerPlan layer, SceneItem[] hidden)
    {
        string name = layer.Name + "_occlusion";
        if (plan.FindLayer(name) is not null)
        {
            return new WriteCells([
                new CellText(layer.Name, PassKeys.Occlusion, ""),
                new CellText(name, PassKeys.Occlusion, PassSheet.Read(plan, layer, PassKeys.Occlusion).ToString()),
            ]);
        }

        PlanEdit[] roles = hidden.Length == 0 ? [] : [new SetRoles([.. hidden.Select(i => i.Name)], [name], ItemRole.Hidden)];
        return new SeveralEdits(
            [
                new AddLayer(name, BasedOn: layer.Name),
                new WriteCells([.. layer.AllPasses.Where(p => p.Pass != PassKeys.Occlusion).Select(p => new CellText(name, p.Pass, ""))]),
                new WriteCells([new CellText(layer.Name, PassKeys.Occlusion, "")]),
                new WriteCells([new CellText(name, PassKeys.Occlusion, PassSheet.Read(plan, layer, PassKeys.Occlusion).ToString())]),
                new SetChanges(name, [new LayerChange(LayerChange.GlobalIlluminationOff, "", [], "occlusion alone")]),
                .. roles,
            ],
            $"occlusion of {layer.Name} rendered apart"
        );
    }
}
