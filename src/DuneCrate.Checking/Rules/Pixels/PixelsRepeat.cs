using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// A decoded picture that is identical to the frame before, where its neighbours change: at most <see cref="LongestRun"/> equal
/// frames in a row, while more than half of the pairs of successive frames nearby differ. Longer holds are taken as meant.
/// </summary>
/// <remarks>Source: common practice.</remarks>
public sealed class PixelsRepeat : PixelRule
{
    /// <summary>More equal frames than this in a row are a hold, not a slip.</summary>
    public const int LongestRun = 3;

    /// <summary>Frames to each side that count as nearby.</summary>
    public const int Nearby = 6;

    public override string Id => "pixels.repeat";

    public override string Title => "Frame repeated";

    public override Severity Severity => Severity.Warning;

    public override string Question => "A picture identical to the frame before, where its neighbours change";

    /// <inheritdoc/>
    public override EvidenceKind Evidence => EvidenceKind.Pair;

    public override IEnumerable<Finding> Check(CheckContext context)
    {
        foreach (CheckedOutput output in context.Outputs)
        {
            CheckedPass? pass =
                output.Passes.FirstOrDefault(p => p.Definition?.Kind == PassKind.Combined)
                ?? (output.Passes.IsEmpty ? null : output.Passes[0]);
            (int Frame, string? Picture)[] pictures = pass is null
                ? []
                : [.. output.ByFrame.Values.Select(f => (f.Frame, Picture(pass, f)))];
            FrameSet repeats = FrameSet.From(Repeats(pictures));
            if (!repeats.IsEmpty)
            {
                yield return About(
                    output,
                    repeats,
                    "a picture of its own",
                    "the frame before once more",
                    $"{Subject(repeats, "is", "are")} the same picture as the frame before, while the frames around move.",
                    Rerender(output, repeats),
                    RemedyKind.Rerender,
                    pass!.Name
                );
            }
        }
    }

    private static IEnumerable<int> Repeats((int Frame, string? Picture)[] pictures)
    {
        bool Same(int i) => i > 0 && i < pictures.Length && pictures[i].Picture is { } hash && hash == pictures[i - 1].Picture;
        for (int i = 1; i < pictures.Length; i++)
        {
            if (!Same(i))
            {
                continue;
            }

            int first = i,
                last = i;
            while (Same(last + 1))
            {
                last++;
            }

            int[] around =
            [
                .. Enumerable
                    .Range(first - Nearby, last - first + 1 + 2 * Nearby)
                    .Where(k => k > 0 && k < pictures.Length && (k < first || k > last)),
            ];
            if (last - first + 2 <= LongestRun && around.Length > 0 && around.Count(k => !Same(k)) * 2 > around.Length)
            {
                for (int k = first; k <= last; k++)
                {
                    yield return pictures[k].Frame;
                }
            }

            i = last;
        }
    }

    /// <summary>The hashes of a pass's channels; null without pixels and for flat pictures, which are equal by nature.</summary>
    private static string? Picture(CheckedPass pass, CheckedFile file)
    {
        var samples = Samples(pass, file).Select(c => c.Samples).ToArray();
        return samples.Length == 0 || samples.All(s => s.Min == s.Max) ? null : string.Concat(samples.Select(s => s.Hash));
    }
}
