using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>Two files that claim one frame: two paddings (0012 and 012), two extensions or two versions in one output.</summary>
/// <remarks>Source: common practice.</remarks>
public sealed class FramesDuplicate : FileRule
{
    public override string Id => "frames.duplicate";

    public override string Title => "Two files for one frame";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "Two files claim one frame";

    public override IEnumerable<Finding> Check(CheckContext context)
    {
        foreach (CheckedOutput output in context.Outputs)
        {
            CheckedFile[][] twice = [.. output.Files.GroupBy(f => f.Frame).Where(g => g.Count() > 1).Select(g => g.ToArray())];
            if (twice.Length > 0)
            {
                FrameSet frames = FrameSet.From(twice.Select(t => t[0].Frame));
                yield return Twice(output, frames, string.Join(" and ", twice[0].Select(f => f.Facts.Path)));
            }
        }

        foreach (StraySequence other in context.Strays.Where(s => s.Kind is StrayKind.Format or StrayKind.Version))
        {
            CheckedOutput output = context.OutputOf(other);
            FrameSet both = other.Sequence.Frames.Intersect(output.Frames);
            if (!both.IsEmpty)
            {
                yield return Twice(output, both, $"{output.Key} and {other.Sequence.Name}");
            }
        }
    }

    private Finding Twice(CheckedOutput output, FrameSet frames, string found) =>
        About(
            output,
            frames,
            "one file per frame",
            found,
            $"Two files claim {At(frames)}: {found}. A reader may take either.",
            "Keep the right one and move the other away.",
            RemedyKind.Look
        );
}
