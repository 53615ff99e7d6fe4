using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Remedies;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>Files at frames outside the plan.</summary>
/// <remarks>Source: common practice.</remarks>
public sealed class FramesExtra : FileRule, IReplans
{
    public override string Id => "frames.extra";

    public override string Title => "Frames outside the plan";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Files at frames outside the plan";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        where output.Planned is { IsStill: false }
        let extra = output.Frames.Except(output.Planned!.Frames)
        where !extra.IsEmpty
        select About(
            output,
            extra,
            output.Planned!.Frames.ToString(),
            output.Frames.ToString(),
            $"{Subject(extra, "is", "are")} outside the planned {output.Planned!.Frames}.",
            "Widen the plan's range, or leave them out of the crate.",
            RemedyKind.Replan
        );

    /// <inheritdoc/>
    public override FrameState StateOf(Finding finding) => FrameState.Unplanned;

    /// <inheritdoc/>
    public Replan? Replan(ReplanCase at) => at.WithFrames(at.Planned.Frames.Union(at.Finding.Frames));
}
