using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Rules;
using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Checking.Rules;

/// <summary>NaN or infinity: count, box and first place.</summary>
/// <remarks>Source: IEEE 754, 6: infinity and NaN.</remarks>
public sealed class PixelsNonFinite : PixelRule
{
    public override string Id => "pixels.nonfinite";

    public override string Title => "Not a number";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "NaN or infinite samples: count, box, first place";

    /// <inheritdoc/>
    public override FrameState StateOf(Finding finding) => BrokenStateOf(finding);

    public override IEnumerable<Finding> Check(CheckContext context)
    {
        foreach (CheckedOutput output in context.Outputs)
        {
            foreach (CheckedPass pass in output.Passes)
            {
                CheckedFile[] bad = [.. output.Files.Where(f => Samples(pass, f).Any(c => c.Samples.Nan + c.Samples.Inf > 0))];
                if (bad.Length == 0)
                {
                    continue;
                }

                FrameSet frames = FrameSet.From(bad.Select(f => f.Frame));
                long nan = bad.Sum(f => Samples(pass, f).Sum(c => c.Samples.Nan)),
                    inf = bad.Sum(f => Samples(pass, f).Sum(c => c.Samples.Inf));
                (string channel, SampleStatistics first) = Samples(pass, bad[0])
                    .Where(c => c.Samples.FirstNonFinite is not null)
                    .OrderBy(c => c.Samples.FirstNonFinite![1])
                    .ThenBy(c => c.Samples.FirstNonFinite![0])
                    .First();
                int[][] boxes = [.. bad.SelectMany(f => Samples(pass, f).Select(c => c.Samples.NonFiniteBox).OfType<int[]>())];
                int[] at = first.FirstNonFinite!,
                    box = [boxes.Min(b => b[0]), boxes.Min(b => b[1]), boxes.Max(b => b[2]), boxes.Max(b => b[3])];
                yield return About(
                    output,
                    frames,
                    "finite numbers",
                    $"{nan} NaN, {inf} infinite",
                    $"{nan} NaN and {inf} infinite samples in {At(frames)}; the first is {channel} at {at[0]}, {at[1]} of frame "
                        + $"{bad[0].Frame}, all inside {box[0]}, {box[1]} to {box[2]}, {box[3]}.",
                    Rerender(output, frames),
                    RemedyKind.Rerender,
                    pass.Name
                ) with
                {
                    At = at,
                };
            }
        }
    }
}
