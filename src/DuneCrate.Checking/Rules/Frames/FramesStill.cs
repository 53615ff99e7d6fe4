using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Remedies;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>One file where a sequence is planned, or a sequence where a still is planned.</summary>
/// <remarks>Source: common practice.</remarks>
public sealed class FramesStill : FileRule, IReplans
{
    public override string Id => "frames.still";

    public override string Title => "Still and sequence mixed up";

    public override Severity Severity => Severity.Warning;

    public override string Question => "One file where a sequence is planned, a sequence where a still is planned";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        where
            output.Planned is not null
            && (output.Frames.IsStill, output.Planned!.IsStill) is (true, false) or (false, true)
            && !output.Frames.IsEmpty
        select About(
            output,
            output.Frames,
            Count(output.Planned!.Frames),
            Count(output.Frames),
            output.Planned!.IsStill
                ? $"A still is planned and {output.Frames.LongCount} frames came."
                : "A sequence is planned and one file came.",
            "Change the planned range, or render what is planned.",
            RemedyKind.Replan
        );

    private static string Count(FrameSet frames) => frames.IsStill ? "a still" : $"{frames.LongCount} frames";

    /// <inheritdoc/>
    public Replan? Replan(ReplanCase at) => at.WithFrames(at.Output.Frames);
}
