using System.Buffers.Binary;
using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Core.Checks.Findings;
using DuneCrate.Core.Checks.Matching;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Intake.Measures;
using DuneCrate.Core.Passes;
using DuneCrate.Core.Rules;

namespace DuneCrate.Core.Checks.Rules;

/// <summary>
/// Correlation of the noise of two successive frames above 0.9 in blocks whose mean moved by more than 1 %, over a fifth of the picture or
/// more: the renderer's seed does not change. The noise is each
/// sample less the mean of its two neighbours, over the block's brightness.
/// </summary>
public sealed class PixelsSeed : PixelRule
{
    private static readonly RuleThreshold Most = new("correlation", 0.9, "correlation of the noise");

    public override string Id => "pixels.seed";

    public override string Title => "Noise does not change";

    public override Severity Severity => Severity.Warning;

    public override string Question => "The same noise in successive frames";

    public override ImmutableArray<RuleThreshold> Thresholds => [Most];

    private const int LeastBlocks = 40;
    private const float Moved = 0.01f,
        LeastNoise = 0.004f;

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

        double xy = 0,
            xx = 0,
            yy = 0;
        int blocks = 0,
            samples = 0;
        for (int b = 0; b < before.Blocks.Length / 2 && b < after.Blocks.Length / 2; b++)
        {
            float one = (float)BinaryPrimitives.ReadHalfLittleEndian(before.Blocks.AsSpan(2 * b)),
                other = (float)BinaryPrimitives.ReadHalfLittleEndian(after.Blocks.AsSpan(2 * b));
            if (!(MathF.Abs(one - other) > Moved * MathF.Max(MathF.Abs(one), 1e-3f)))
            {
                continue;
            }

            blocks++;
            for (int k = b * PictureMeasure.NoisePerBlock; k < (b + 1) * PictureMeasure.NoisePerBlock; k++)
            {
                double x = (sbyte)before.Noise[k],
                    y = (sbyte)after.Noise[k];
                (xy, xx, yy, samples) = (xy + x * y, xx + x * x, yy + y * y, samples + 1);
            }
        }

        double noise = samples == 0 ? 0 : Math.Sqrt(Math.Min(xx, yy) / samples) / 127 * PictureMeasure.NoiseRange;
        return blocks < LeastBlocks || noise < LeastNoise ? null : xy / Math.Sqrt(xx * yy);
    }
}
