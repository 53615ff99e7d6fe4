using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Sheet;

namespace DuneCrate.Planning.Rules;

/// <summary>The last frame has more digits than the padding; common practice is padding wide enough for the last frame.</summary>
/// <remarks>Source: common practice.</remarks>
public sealed class PlanPadding : PlanRule
{
    public override string Id => "plan.padding";

    public override string Title => "Padding too narrow";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "The last frame has more digits than the padding";

    public override IEnumerable<PlanFinding> Check(PlanContext context) =>
        from output in context.Estimate.Outputs.Select(o => o.Output)
        where output.Name.Padding > 1 && !output.Frames.IsEmpty
        let needed = PlanValidation.DigitsNeeded(output.Frames)
        where needed > output.Name.Padding
        select Found(
            output.Layer.Name,
            output.Passes.FirstOrDefault()?.Pass,
            "padding",
            $"Frame {output.Frames.Last} of {output.Key} needs {needed} digits; the padding is {output.Name.Padding}.",
            $"Set the padding to {Math.Max(4, needed)}.",
            new SetOutputs([output.Layer.Name], PassSheet.HomeOf(output.Layer, output.Output))
            {
                Padding = Math.Max(4, needed).ToString(System.Globalization.CultureInfo.InvariantCulture),
            }
        );
}
