using DuneCrate.Foundation.Rules;

namespace DuneCrate.Planning.Rules;

/// <summary>What those who get crates of the show ask for, and nothing plans.</summary>
/// <remarks>Source: common practice.</remarks>
public sealed class PlanReceiver : PlanRule
{
    public override string Id => "plan.receiver";

    public override string Title => "A receiver asks for more";

    public override Severity Severity => Severity.Warning;

    public override string Question => "What those who get crates of the show ask for, and nothing plans";

    public override IEnumerable<PlanFinding> Check(PlanContext context) =>
        context.Gaps.Select(g => Found(g.Layer, null, "receivers", $"{g.Receiver}: {g.What}", g.Remedy));
}
