using DuneCrate.Core.Frames;

namespace DuneCrate.Core.Checks.Rules;

/// <summary>Frames of the plan with no file. Frames that are there under a slip of the right name belong to <see cref="NamesTemplate"/>.</summary>
public sealed class FramesMissing : Rule
{
    public override string Id => "frames.missing";

    public override string Title => "Frames are missing";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "Frames of the plan with no file";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from lane in context.Lanes
        where lane.Planned is not null && !(lane.Frames.IsEmpty && lane.Misnamed.IsEmpty)
        let missing = lane.Planned!.Frames.Except(lane.Frames).Except(lane.Misnamed)
        where !missing.IsEmpty
        select About(lane, missing, lane.Planned!.Frames.ToString(), lane.Frames.ToString(),
            $"{(missing.IsStill ? "Frame" : "Frames")} {missing} {Are(missing)} missing: {lane.Planned!.Frames.LongCount} planned, {lane.Frames.Intersect(lane.Planned!.Frames).LongCount} found.",
            Rerender(lane, missing), RemedyKind.Rerender);
}

/// <summary>Files at frames outside the plan.</summary>
public sealed class FramesExtra : Rule
{
    public override string Id => "frames.extra";

    public override string Title => "Frames outside the plan";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Files at frames outside the plan";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from lane in context.Lanes
        where lane.Planned is { IsStill: false }
        let extra = lane.Frames.Except(lane.Planned!.Frames)
        where !extra.IsEmpty
        select About(lane, extra, lane.Planned!.Frames.ToString(), lane.Frames.ToString(),
            $"{(extra.IsStill ? "Frame" : "Frames")} {extra} {Are(extra)} outside the planned {lane.Planned!.Frames}.",
            "Widen the plan's range, or leave them out of the crate.", RemedyKind.Replan);
}

/// <summary>Without a plan: frames missing inside first..last at the sequence's own step, the most frequent distance between neighbours.</summary>
public sealed class FramesGap : Rule
{
    public override string Id => "frames.gap";

    public override string Title => "Gap in the sequence";

    public override Severity Severity => Severity.Warning;

    public override string Question => "No plan: frames missing inside the range at the sequence's own step";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        context.Plan is not null ? [] :
        from sequence in context.Intake.Sequences
        let gaps = sequence.Gaps()
        where !gaps.IsEmpty
        let lane = context.Lanes.First(l => l.Name == sequence.Name)
        select About(lane, gaps, sequence.Frames.Union(gaps).ToString(), sequence.Frames.ToString(),
            $"{(gaps.IsStill ? "Frame" : "Frames")} {gaps} {Are(gaps)} missing inside {sequence.Frames.First} to {sequence.Frames.Last}.",
            Rerender(lane, gaps), RemedyKind.Rerender);
}

/// <summary>Two files that claim one frame: two paddings (0012 and 012) in one output.</summary>
public sealed class FramesDuplicate : Rule
{
    public override string Id => "frames.duplicate";

    public override string Title => "Two files for one frame";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "Two files claim one frame";

    public override IEnumerable<Finding> Check(CheckContext context)
    {
        foreach (CheckLane lane in context.Lanes)
        {
            LaneFile[][] twice = [.. lane.Files.GroupBy(f => f.Frame).Where(g => g.Count() > 1).Select(g => g.ToArray())];
            if (twice.Length > 0)
            {
                FrameSet frames = FrameSet.From(twice.Select(t => t[0].Frame));
                yield return About(lane, frames, "one file per frame", string.Join(" and ", twice[0].Select(f => f.Facts.Path)),
                    $"Two files claim {Words(frames)}; a reader may take either.", "Keep the right one and move the other away.", RemedyKind.Look);
            }
        }
    }
}

/// <summary>One file where a sequence is planned, or a sequence where a still is planned.</summary>
public sealed class FramesStill : Rule
{
    public override string Id => "frames.still";

    public override string Title => "Still and sequence mixed up";

    public override Severity Severity => Severity.Warning;

    public override string Question => "One file where a sequence is planned, a sequence where a still is planned";

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from lane in context.Lanes
        where lane.Planned is not null && (lane.Frames.IsStill, lane.Planned!.IsStill) is (true, false) or (false, true) && !lane.Frames.IsEmpty
        select About(lane, lane.Frames, Count(lane.Planned!.Frames), Count(lane.Frames),
            lane.Planned!.IsStill ? $"A still is planned and {lane.Frames.LongCount} frames came." : "A sequence is planned and one file came.",
            "Change the planned range, or render what is planned.", RemedyKind.Replan);

    private static string Count(FrameSet frames) => frames.IsStill ? "a still" : $"{frames.LongCount} frames";
}
