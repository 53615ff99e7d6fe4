using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// A third of a sequence or less is older than all the rest by more than the rest took from its first file to its last, and by more than a
/// minute.
/// </summary>
/// <remarks>Source: common practice.</remarks>
public sealed class FilesStale : FileRule
{
    private static readonly RuleThreshold Least = new("seconds", 60, "seconds older at least");

    public override string Id => "files.stale";

    public override string Title => "Left over from an earlier render";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Older than the rest of its sequence by more than the sequence took to render";

    public override ImmutableArray<RuleThreshold> Thresholds => [Least];

    public override IEnumerable<Finding> Check(CheckContext context)
    {
        foreach (CheckedOutput output in context.Outputs.Where(l => l.Files.Length >= 3))
        {
            CheckedFile[] byTime = [.. output.Files.OrderBy(f => f.Facts.Modified)];
            for (int old = byTime.Length / 3; old >= 1; old--)
            {
                TimeSpan gap = byTime[old].Facts.Modified - byTime[old - 1].Facts.Modified,
                    took = byTime[^1].Facts.Modified - byTime[old].Facts.Modified;
                if (gap > took && gap.TotalSeconds > context.Threshold(this, Least))
                {
                    FrameSet frames = FrameSet.From(byTime.Take(old).Select(f => f.Frame));
                    yield return About(
                        output,
                        frames,
                        string.Create(CultureInfo.InvariantCulture, $"written from {byTime[old].Facts.Modified:yyyy-MM-dd HH:mm:ss} on"),
                        string.Create(CultureInfo.InvariantCulture, $"{byTime[old - 1].Facts.Modified:yyyy-MM-dd HH:mm:ss}"),
                        $"{Subject(frames, "is", "are")} older than the rest of the sequence: left from an earlier render.",
                        Rerender(output, frames),
                        RemedyKind.Rerender
                    );
                    break;
                }
            }
        }
    }
}
