using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// Without a plan: frames missing inside first..last at the sequence's own step, the most frequent distance between neighbours.
/// </summary>
/// <remarks>Source: the step is the most frequent distance between neighbours; common practice.</remarks>
public sealed class FramesGap : FileRule
{
    public override string Id => "frames.gap";

    public override string Title => "Gap in the sequence";

    public override Severity Severity => Severity.Warning;

    public override string Question => "No plan: frames missing inside the range at the sequence's own step";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        context.IsPlanned
            ? []
            : from sequence in context.Intake.Sequences
            let gaps = sequence.Gaps()
            where !gaps.IsEmpty
            let output = context.Outputs.First(l => l.Name == sequence.Name)
            select About(
                output,
                gaps,
                sequence.Frames.Union(gaps).ToString(),
                sequence.Frames.ToString(),
                $"{Subject(gaps, "is", "are")} missing inside {sequence.Frames.First} to {sequence.Frames.Last}.",
                Rerender(output, gaps),
                RemedyKind.Rerender
            );
}
