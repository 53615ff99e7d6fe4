using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake.Measures;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// Correlation of the noise of two successive frames above 0.8 where the picture moved: the renderer's seed does not change. The noise is
/// what the second difference across and down leaves, over the block's brightness. A place has moved when the mean around it changed by
/// more than 3 % of that brightness; samples beyond three robust deviations are edges and left out.
/// </summary>
/// <remarks>Source: Pearson correlation of high-pass residuals; common practice.</remarks>
public sealed class PixelsSeed : PixelRule
{
    private static readonly RuleThreshold Most = new("correlation", 0.8, "correlation of the noise");

    public override string Id => "pixels.seed";

    public override string Title => "Noise does not change";

    public override Severity Severity => Severity.Warning;

    public override string Question => "The same noise in successive frames";

    public override ImmutableArray<RuleThreshold> Thresholds => [Most];

    private const int LeastSamples = 200;
    private const float Moved = 0.03f,
        LeastNoise = 0.004f;

    /// <summary>From the median of absolute values to a standard deviation, for a normal distribution.</summary>
    private const double ToDeviation = 1.4826;

    /// <inheritdoc/>
    public override EvidenceKind Evidence => EvidenceKind.Pair;

    public override IEnumerable<Finding> Check(CheckContext context)
    {
        foreach (CheckedOutput output in context.Outputs)
        {
            foreach (CheckedPass pass in output.Passes.Where(p => p.Definition?.Kind == PassKind.Combined))
            {
                (int Frame, PictureFacts Picture)[] pictures =
                [
                    .. output.ByFrame.Values.Select(f => (f.Frame, Measured(pass, f)?.Picture)).Where(f => f.Picture is not null)!,
                ];
                var still = new List<int>();
                double worst = 0;
                for (int i = 1; i < pictures.Length; i++)
                {
                    if (
                        Correlation(pictures[i - 1].Picture, pictures[i].Picture) is { } correlation
                        && correlation > context.Threshold(this, Most)
                    )
                    {
                        still.Add(pictures[i].Frame);
                        worst = Math.Max(worst, correlation);
                    }
                }

                if (still.Count > 0)
                {
                    FrameSet frames = FrameSet.From(still);
                    yield return About(
                        output,
                        frames,
                        "noise that changes",
                        string.Create(CultureInfo.InvariantCulture, $"correlation {worst:0.00} with the frame before"),
                        $"The noise of {At(frames)} is that of the frame before while the picture moves: the seed does not change.",
                        $"Set the seed to change per frame. {Rerender(output, frames)}",
                        RemedyKind.Rerender,
                        pass.Name
                    );
                }
            }
        }
    }

    private static double? Correlation(PictureFacts before, PictureFacts after)
    {
        if (before.Blocks.AsSpan().SequenceEqual(after.Blocks))
        {
            return null; // Nothing moves.
        }

        int changed = (int)MathF.Ceiling(Moved / PictureMeasure.SmoothRange * 255);
        int[] moved =
        [
            .. Enumerable
                .Range(0, Math.Min(before.Noise.Length, after.Noise.Length))
                .Where(k => Math.Abs(before.Smooth[k] - after.Smooth[k]) >= changed && before.Smooth[k] > 0 && after.Smooth[k] > 0),
        ];
        if (moved.Length < LeastSamples)
        {
            return null;
        }

        double one = Deviation(moved, before.Noise),
            other = Deviation(moved, after.Noise);
        if (Math.Min(one, other) / 127 * PictureMeasure.NoiseRange < LeastNoise)
        {
            return null;
        }

        double xy = 0,
            xx = 0,
            yy = 0;
        foreach (int k in moved)
        {
            double x = (sbyte)before.Noise[k],
                y = (sbyte)after.Noise[k];
            if (Math.Abs(x) <= 3 * one && Math.Abs(y) <= 3 * other)
            {
                (xy, xx, yy) = (xy + x * y, xx + x * x, yy + y * y);
            }
        }

        return xx * yy > 0 ? xy / Math.Sqrt(xx * yy) : null;
    }

    private static double Deviation(int[] at, byte[] noise)
    {
        int[] sizes = [.. at.Select(k => Math.Abs((int)(sbyte)noise[k])).Order()];
        return Math.Max(1, ToDeviation * sizes[sizes.Length / 2]);
    }
}
