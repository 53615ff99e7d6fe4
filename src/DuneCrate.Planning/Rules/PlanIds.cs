using System.Globalization;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Scene;

namespace DuneCrate.Planning.Rules;

/// <summary>
/// An id asked of a pass that no item carries, two items on one id, two flat colours the same or too near to be told apart, and masks asked
/// for that no item has.
/// </summary>
/// <remarks>Source: common practice.</remarks>
public sealed class PlanIds : SceneRule
{
    private static readonly RuleThreshold Nearest = new(
        "nearest",
        FlatColours.TooNear,
        "CIEDE2000 difference below which two flat colours are too near"
    );

    public override string Id => "plan.ids";

    public override string Title => "Ids do not match";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "An id asked of a pass that no item carries; two items on one id or colour by accident";

    public override System.Collections.Immutable.ImmutableArray<RuleThreshold> Thresholds => [Nearest];

    public override bool IsAboutIds => true;

    public override IEnumerable<PlanFinding> Check(PlanContext context)
    {
        Plan plan = context.Plan;
        foreach (
            IGrouping<int?, SceneItem> same in plan
                .Items.Where(i => i is { IsVisible: true, Id: not null })
                .GroupBy(i => i.Id)
                .Where(g => g.Count() > 1)
        )
        {
            yield return Found(
                null,
                null,
                "ids",
                $"{Words.List(same.Select(i => i.Name))} carry the same object id {same.Key}: they cannot be selected apart.",
                "Assign ids anew; the first keeps it.",
                new AssignIds()
            );
        }

        SceneItem[] coloured = [.. plan.Items.Where(i => i.Colour is not null)];
        double nearest = context.Threshold(this, Nearest);
        var near = (
            from a in coloured.Select((item, i) => (item, i))
            from b in coloured.Skip(a.i + 1)
            let d = FlatColours.Difference(a.item.Colour!, b.Colour!)
            where d < nearest
            orderby d
            select (A: a.item, B: b, d)
        ).FirstOrDefault();
        if (near.A is not null)
        {
            yield return Found(
                null,
                null,
                "colours",
                near.d == 0
                    ? $"{near.A.Name} and {near.B.Name} have the same flat colour {near.A.Colour}."
                    : string.Create(
                        CultureInfo.InvariantCulture,
                        $"The flat colours of {near.A.Name} and {near.B.Name} differ by {near.d:0.#} (CIEDE2000); below "
                            + $"{nearest:0.#} a selection takes both."
                    ),
                "Assign colours anew.",
                near.d == 0
                    ? new AssignColours()
                    : new SeveralEdits([new PutItems([near.B with { Colour = null }]), new AssignColours()], "flat colours assigned")
            );
        }

        if (plan.Items.IsEmpty)
        {
            yield break;
        }

        foreach (LayerPlan layer in context.Layers)
        {
            foreach (PassPlan pass in layer.Passes)
            {
                if (pass.Ids is { } asked)
                {
                    int[] carried = [.. Seen(plan, layer).Select(i => i.Id).OfType<int>()];
                    int[] missing = [.. asked.Where(id => !carried.Contains(id))];
                    if (missing.Length > 0)
                    {
                        yield return Found(
                            layer.Name,
                            pass.Pass,
                            "ids",
                            $"{pass.Pass} of {layer.Name} asks for {(missing.Length == 1 ? "id" : "ids")} {FrameSet.From(missing)}, "
                                + "which no item that it shows carries.",
                            "Ask for the ids that are carried, or give the items theirs.",
                            new SetAskedIds(layer.Name, pass.Pass, FrameSet.From(carried).ToString())
                        );
                    }
                }

                if (
                    pass.Masks is { } masks
                    && masks.Values.Except(Seen(plan, layer).Select(i => i.Mask ?? "")).ToArray() is { Length: > 0 } gone
                )
                {
                    yield return Found(
                        layer.Name,
                        pass.Pass,
                        "masks",
                        $"{pass.Pass} of {layer.Name} masks {Words.List(gone)}, which no item that it shows goes into.",
                        "Pack the mattes anew.",
                        PackMattes.MasksOf(plan, layer).IsEmpty ? null : new PackMattes(layer.Name)
                    );
                }
            }
        }
    }
}
