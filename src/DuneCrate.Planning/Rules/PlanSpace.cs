using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Planning.Rules;

/// <summary>The estimated size exceeds the room left under the output root.</summary>
/// <remarks>Source: common practice.</remarks>
public sealed class PlanSpace : PlanRule
{
    public override string Id => "plan.space";

    public override string Title => "Not enough room";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "The estimated size exceeds the room left under the output root";

    public override IEnumerable<PlanFinding> Check(PlanContext context)
    {
        if (context.FreeBytes is { } free && context.Estimate.Bytes > free)
        {
            yield return Found(
                null,
                null,
                "space",
                $"About {ByteSize.Text(context.Estimate.Bytes)} will be written and {ByteSize.Text(free)} are left.",
                "Make room, render fewer passes at once, or write half where float is not needed."
            );
        }
    }
}
