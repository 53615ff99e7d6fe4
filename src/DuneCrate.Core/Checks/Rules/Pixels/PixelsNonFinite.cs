using DuneCrate.Core.Checks.Findings;
using DuneCrate.Core.Checks.Matching;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Images.Statistics;
using DuneCrate.Core.Rules;

namespace DuneCrate.Core.Checks.Rules;

/// <summary>NaN or infinity: count, box and first place.</summary>
public sealed class PixelsNonFinite : PixelRule
{
    public override string Id => "pixels.nonfinite";

    public override string Title => "Not a number";

    public override Severity Severity => Severity.Blocker;

    public override string Question => "NaN or infinite samples: count, box, first place";

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
                (string channel, SampleStatistics worst) = Samples(pass, bad[0]).First(c => c.Samples.FirstNonFinite is not null);
                long nan = bad.Sum(f => Samples(pass, f).Sum(c => c.Samples.Nan)),
                    inf = bad.Sum(f => Samples(pass, f).Sum(c => c.Samples.Inf));
                int[] at = worst.FirstNonFinite!,
                    box = worst.NonFiniteBox!;
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
