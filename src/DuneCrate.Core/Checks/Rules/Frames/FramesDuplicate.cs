using DuneCrate.Core.Checks.Findings;
using DuneCrate.Core.Checks.Matching;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Rules;

namespace DuneCrate.Core.Checks.Rules;

/// <summary>Two files that claim one frame: two paddings (0012 and 012), two extensions or two versions in one output.</summary>
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
                yield return Twice(lane, frames, string.Join(" and ", twice[0].Select(f => f.Facts.Path)));
            }
        }

        foreach (StraySequence other in context.Strays.Where(s => s.Kind is StrayKind.Format or StrayKind.Version))
        {
            CheckLane lane = context.LaneOf(other);
            FrameSet both = other.Sequence.Frames.Intersect(lane.Frames);
            if (!both.IsEmpty)
            {
                yield return Twice(lane, both, $"{lane.Key} and {other.Sequence.Name}");
            }
        }
    }

    private Finding Twice(CheckLane lane, FrameSet frames, string found) =>
        About(
            lane,
            frames,
            "one file per frame",
            found,
            $"Two files claim {Words(frames)}; a reader may take either.",
            "Keep the right one and move the other away.",
            RemedyKind.Look
        );
}
