using DuneCrate.Core.Checks.Findings;
using DuneCrate.Core.Checks.Matching;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Rules;

namespace DuneCrate.Core.Checks.Rules;

/// <summary>One file where a sequence is planned, or a sequence where a still is planned.</summary>
public sealed class FramesStill : Rule
{
    public override string Id => "frames.still";

    public override string Title => "Still and sequence mixed up";

    public override Severity Severity => Severity.Warning;

    public override string Question => "One file where a sequence is planned, a sequence where a still is planned";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from lane in context.Lanes
        where
            lane.Planned is not null
            && (lane.Frames.IsStill, lane.Planned!.IsStill) is (true, false) or (false, true)
            && !lane.Frames.IsEmpty
        select About(
            lane,
            lane.Frames,
            Count(lane.Planned!.Frames),
            Count(lane.Frames),
            lane.Planned!.IsStill
                ? $"A still is planned and {lane.Frames.LongCount} frames came."
                : "A sequence is planned and one file came.",
            "Change the planned range, or render what is planned.",
            RemedyKind.Replan
        );

    private static string Count(FrameSet frames) => frames.IsStill ? "a still" : $"{frames.LongCount} frames";
}
