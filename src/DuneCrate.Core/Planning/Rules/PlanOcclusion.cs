using DuneCrate.Core.Passes;
using DuneCrate.Core.Planning.Edits;
using DuneCrate.Core.Planning.Model;
using DuneCrate.Core.Rules;
using DuneCrate.Core.Scene;

namespace DuneCrate.Core.Planning.Rules;

/// <summary>
/// Transparent or cut-out items shown in an occlusion pass, which they darken wrongly; global illumination left on for it. Common practice:
/// occlusion is rendered in a layer of its own with global illumination off.
/// </summary>
public sealed class PlanOcclusion : SceneRule
{
    public override string Id => "plan.occlusion";

    public override string Title => "Occlusion will be wrong";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Transparent or cut-out items in an occlusion pass; global illumination left on for it";

    public override IEnumerable<PlanFinding> Check(PlanContext context)
    {
        foreach (LayerPlan layer in context.Layers.Where(l => l.Passes.Any(p => p.Pass == "ao")))
        {
            SceneItem[] wrong = [.. Seen(context.Plan, layer).Where(i => i.Is(ItemTrait.Transparent) || i.Is(ItemTrait.CutOut))];
            if (wrong.Length > 0)
            {
                bool isAlone = layer.Passes.All(p => p.Pass == "ao");
                yield return Found(
                    layer.Name,
                    "ao",
                    "roles",
                    $"{Names(wrong.Select(i => i.Name))} {(wrong.Length == 1 ? "is" : "are")} transparent or cut out and {(wrong.Length == 1 ? "darkens" : "darken")} the occlusion of {layer.Name} as if solid.",
                    isAlone ? "Hide it in this layer." : "Render the occlusion in a layer of its own, without it.",
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
                    "ao",
                    "global_illumination",
                    $"Global illumination is on while {layer.Name} renders occlusion.",
                    "Switch it off for a layer that only renders occlusion.",
                    layer.Passes.All(p => p.Pass == "ao")
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
                new CellText(layer.Name, "ao", ""),
                new CellText(name, "ao", Sheet.PassSheet.Read(plan, layer, "ao").ToString()),
            ]);
        }

        PlanEdit[] roles = hidden.Length == 0 ? [] : [new SetRoles([.. hidden.Select(i => i.Name)], [name], ItemRole.Hidden)];
        return new SeveralEdits(
            [
                new AddLayer(name, BasedOn: layer.Name),
                new WriteCells([.. layer.AllPasses.Where(p => p.Pass != "ao").Select(p => new CellText(name, p.Pass, ""))]),
                new WriteCells([new CellText(layer.Name, "ao", "")]),
                new WriteCells([new CellText(name, "ao", Sheet.PassSheet.Read(plan, layer, "ao").ToString())]),
                new SetChanges(name, [new LayerChange(LayerChange.GlobalIlluminationOff, "", [], "occlusion alone")]),
                .. roles,
            ],
            $"occlusion of {layer.Name} rendered apart"
        );
    }
}
