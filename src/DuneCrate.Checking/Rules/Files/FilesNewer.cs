using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// Frames that were rendered again without a word: a third of a sequence or less is newer than all the rest by more than the rest took and
/// by more than a minute, with older frames after it; or the header of a quarter or less names another program, host or scene file than
/// nearly all others do.
/// </summary>
/// <remarks>Source: common practice.</remarks>
public sealed class FilesNewer : FileRule
{
    private static readonly RuleThreshold Least = new("seconds", 60, "seconds newer at least");
    private static readonly RuleThreshold Few = new("share", 0.25, "share of frames that may count as few");

    private static readonly (string Name, Func<PartFacts, string?> Text)[] Fields =
    [
        ("program", p => p.Program),
        ("host", p => p.Host),
        ("scene file", p => p.SceneFile),
    ];

    private const int LeastFrames = 4;

    public override string Id => "files.newer";

    public override string Title => "Rendered again";

    public override Severity Severity => Severity.Note;

    public override string Question => "Much newer than their neighbours, or written by another program, host or scene file";

    public override ImmutableArray<RuleThreshold> Thresholds => [Least, Few];

    public override IEnumerable<Finding> Check(CheckContext context) =>
        from output in context.Outputs
        where output.Frames.LongCount >= LeastFrames
        let different = Different(output, context.Threshold(this, Few)).ToArray()
        let newer = Newer(output, context.Threshold(this, Least))
        where different.Length > 0 || !newer.IsEmpty
        let frames = FrameSet.UnionOf(different.Select(d => d.Frames).Append(newer))
        let what = different.Select(d => d.What).Concat(newer.IsEmpty ? [] : [$"written later ({TimeOf(output, newer)})"]).ToArray()
        select About(
            output,
            frames,
            "one render",
            string.Join("; ", what),
            $"{Subject(frames, "was", "were")} rendered again: {string.Join("; ", what)}.",
            "Ask whether it was meant, and flip between these frames and their neighbours.",
            RemedyKind.Look
        );

    /// <summary>Frames whose header names something else than nearly all others, with what it names.</summary>
    private static IEnumerable<(FrameSet Frames, string What)> Different(CheckedOutput output, double few)
    {
        CheckedFile[] files = [.. output.Readable.Where(f => !f.Facts.Parts.IsEmpty)];
        foreach ((string name, Func<PartFacts, string?> text) in Fields)
        {
            var values = files.GroupBy(f => text(f.Facts.Parts[0])).OrderByDescending(g => g.Count()).ToArray();
            int others = values.Skip(1).Sum(g => g.Count());
            if (values.Length < 2 || values[0].Key is not { } usual || others > Math.Max(1, few * files.Length))
            {
                continue;
            }

            yield return (
                FrameSet.From(values.Skip(1).SelectMany(g => g).Select(f => f.Frame)),
                $"{name} {Words.List(values.Skip(1).Select(g => g.Key ?? "not named"))} instead of {usual}"
            );
        }
    }

    private static FrameSet Newer(CheckedOutput output, double least)
    {
        CheckedFile[] byTime = [.. output.Files.OrderBy(f => f.Facts.Modified)];
        for (int count = byTime.Length / 3; count >= 1; count--)
        {
            int first = byTime.Length - count;
            TimeSpan gap = byTime[first].Facts.Modified - byTime[first - 1].Facts.Modified,
                took = byTime[first - 1].Facts.Modified - byTime[0].Facts.Modified;
            if (gap <= took || gap.TotalSeconds <= least)
            {
                continue;
            }

            // The last frames of a range are the last to come: only those with older ones behind them were made again.
            FrameSet frames = FrameSet.From(byTime[first..].Select(f => f.Frame));
            if (frames.First < output.Frames.Last && !frames.Contains(output.Frames.Last))
            {
                return frames;
            }
        }

        return FrameSet.Empty;
    }

    private static string TimeOf(CheckedOutput output, FrameSet frames) =>
        output.Files.First(f => frames.Contains(f.Frame)).Facts.Modified.ToString("yyyy-MM-dd HH:mm", CultureInfo.InvariantCulture);
}
