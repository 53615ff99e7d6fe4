using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// Frames whose files are the same as a whole, while most of the sequence changes. Flat pictures are alike by
/// nature; whether a frame that is the same as
/// the one before is a hold is for <see cref="PixelsRepeat"/> to say.
/// </summary>
/// <remarks>Source: common practice.</remarks>
public sealed class FilesCopy : PixelRule
{
    public override string Id => "files.copy";

    public override string Title => "The same file twice";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Two frames with the same bytes";

    public override IEnumerable<Finding> Check(CheckContext context)
    {
        foreach (CheckedOutput output in context.Outputs)
        {
            CheckedFile[] files = [.. output.ByFrame.Values.Where(f => Channels(f).Any(c => c.Samples is { } s && s.Min != s.Max))];
            Dictionary<int, int> before = files.Zip(files.Skip(1)).ToDictionary(p => p.Second.Frame, p => p.First.Frame);
            CheckedFile[][] same =
            [
                .. files
                    .GroupBy(f => (f.Facts.Bytes, Channels(f).First().Samples?.Hash))
                    .Where(g => g.Count() > 1)
                    .SelectMany(g => g.GroupBy(Content))
                    .Select(g => Apart([.. g], before))
                    .Where(g => g.Length > 1),
            ];
            if (same.Length > 0 && same.Sum(s => s.Length) * 2 <= files.Length)
            {
                FrameSet copies = FrameSet.From(same.SelectMany(s => s.Skip(1)).Select(f => f.Frame));
                yield return About(
                    output,
                    copies,
                    "a picture of its own",
                    $"that of frame {same[0][0].Frame}",
                    $"{Subject(copies, "is", "are")} the same as "
                        + $"{string.Join(", ", same.Select(s => s[0].Frame).Distinct().Take(4))}, byte for byte.",
                    Rerender(output, copies),
                    RemedyKind.Rerender
                );
            }
        }
    }

    /// <summary>Of the same pictures, in order, those that do not follow one another.</summary>
    private static CheckedFile[] Apart(CheckedFile[] same, Dictionary<int, int> before) =>
        [.. same.Where((f, i) => i == 0 || before[f.Frame] != same[i - 1].Frame)];

    private static IEnumerable<ChannelFacts> Channels(CheckedFile file) => file.Facts.Channels;

    /// <summary>What names a frame is its whole file; where that was written to meanwhile, its pictures.</summary>
    private static string Content(CheckedFile file) =>
        file.Facts.Content.IsEmpty
            ? string.Concat(Channels(file).Select(c => c.Samples?.Hash))
            : Convert.ToHexString(file.Facts.Content.AsSpan());
}
