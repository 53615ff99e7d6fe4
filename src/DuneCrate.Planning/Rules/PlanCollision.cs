using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Sheet;

namespace DuneCrate.Planning.Rules;

/// <summary>Two outputs write one path, without regard to case: file systems may not tell them apart.</summary>
/// <remarks>Source: common practice.</remarks>
public sealed class PlanCollision : PlanRule
{
    public override string Id => "plan.collision";

    public override string Title => "Two outputs write one path";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "Two outputs write one path";

    public override IEnumerable<PlanFinding> Check(PlanContext context) =>
        from same in context
            .Estimate.Outputs.Select(o => o.Output)
            .GroupBy(o => o.Name.Prefix + "#" + o.Name.Suffix, StringComparer.OrdinalIgnoreCase)
        where same.Count() > 1
        let second = same.Last()
        let first = same.First()
        let home = PassSheet.HomeOf(second.Layer, second.Output)
        select Found(
            second.Layer.Name,
            second.Passes.FirstOrDefault()?.Pass,
            "template",
            $"{first.Layer.Name} and {(first.Layer == second.Layer ? "another output of it" : second.Layer.Name)} both write "
                + $"{second.Key}: each overwrites the other.",
            "Put {layer} or {pass} into the name.",
            new SetOutputs([second.Layer.Name], home)
            {
                Template = home switch
                {
                    PassHome.Own => PassSheet.OwnTemplate,
                    PassHome.Data => PassSheet.DataTemplate,
                    _ => PassSheet.SharedTemplate,
                },
            }
        );
}
