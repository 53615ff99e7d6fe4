using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Suggestions;

namespace DuneCrate.Planning.Rules;

/// <summary>A mask or id pass whose layer leaves out items that pass in front, without holding them out.</summary>
/// <remarks>Source: common practice.</remarks>
public sealed class PlanHoldout : SceneRule
{
    public override string Id => "plan.holdout";

    public override string Title => "Mask without a holdout";

    public override Severity Severity => Severity.Warning;

    public override string Question => "A mask whose item is crossed by items that are neither holdouts nor in it";

    public override bool IsAboutIds => true;

    public override IEnumerable<PlanFinding> Check(PlanContext context) =>
        from layer in context.Layers
        let masks = layer
            .Passes.Where(p => context.Plan.Catalogue.Find(p.Pass)?.Kind is PassKind.Mask or PassKind.Identity)
            .Select(p => p.Pass)
            .ToArray()
        where masks.Length > 0
        let crossing = PassContents.Crossing(context.Plan, layer)
        where !crossing.IsEmpty
        select Found(
            layer.Name,
            masks[0],
            "roles",
            $"{Words.List(crossing.Select(c => c.Item))} of {Words.List(crossing.Select(c => c.Layer).Distinct())} may pass in front of "
                + $"{layer.Name} and {Words.Are(crossing.Length)} "
                + $"no holdout in it: {Words.List(masks)} will be wrong there.",
            $"Make {(crossing.Length == 1 ? "it a holdout" : "them holdouts")}.",
            new SetRoles([.. crossing.Select(c => c.Item)], [layer.Name], ItemRole.Holdout)
        );
}
