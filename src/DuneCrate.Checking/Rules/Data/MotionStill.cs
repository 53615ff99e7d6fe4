using System.Buffers.Binary;
using System.Collections.Immutable;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Rules;

/// <summary>
/// Motion vectors are 0 everywhere, and the layer's picture differs from the frame before by more than 2 % in more than a twentieth of its
/// blocks.
/// </summary>
/// <remarks>Source: common practice.</remarks>
public sealed class MotionStill : PixelRule
{
    private static readonly RuleThreshold Moved = new(
        "moved",
        0.02,
        "share of its brightness by which a block differs from the frame before"
    );
    private static readonly RuleThreshold Blocks = new("blocks", 0.05, "share of the picture's blocks that must differ");

    public override string Id => "motion.still";

    public override string Title => "No motion while the picture moves";

    public override Severity Severity => Severity.Warning;

    public override string Question => "Motion zero everywhere while the picture moves";

    public override ImmutableArray<RuleThreshold> Thresholds => [Moved, Blocks];

    /// <inheritdoc/>
    public override EvidenceKind Evidence => EvidenceKind.Pair;

    public override IEnumerable<Finding> Check(CheckContext context)
    {
        (double moved, double blocks) = (context.Threshold(this, Moved), context.Threshold(this, Blocks));
        foreach (IGrouping<string, CheckedOutput> layer in context.Outputs.GroupBy(l => l.Layer))
        {
            var beauty = layer
                .SelectMany(l => l.Passes.Where(p => p.Definition?.Kind == PassKind.Combined).Select(p => (Lane: l, Pass: p)))
                .FirstOrDefault();
            foreach (
                (CheckedOutput output, CheckedPass pass) in layer.SelectMany(l =>
                    l.Passes.Where(p => p.Definition?.Has(PassMeasures.Motion) == true).Select(p => (l, p))
                )
            )
            {
                FrameSet still = FrameSet.From(
                    output
                        .ByFrame.Values.Where(f =>
                            Samples(pass, f).Any()
                            && Samples(pass, f).All(c => c.Samples is { Min: 0, Max: 0 })
                            && beauty.Lane is not null
                            && Moves(beauty.Lane, beauty.Pass, f.Frame, moved, blocks)
                        )
                        .Select(f => f.Frame)
                );
                if (!still.IsEmpty)
                {
                    yield return About(
                        output,
                        still,
                        "vectors",
                        "0 everywhere",
                        $"{pass.Name} is 0 everywhere in {At(still)} while the picture moves.",
                        $"Look whether motion was switched on. {Rerender(output, still)}",
                        RemedyKind.Rerender,
                        pass.Name
                    );
                }
            }
        }
    }

    private static bool Moves(CheckedOutput output, CheckedPass pass, int frame, double moved, double blocks) =>
        output.ByFrame.TryGetValue(frame, out CheckedFile? now)
        && (output.ByFrame.TryGetValue(frame - 1, out CheckedFile? other) || output.ByFrame.TryGetValue(frame + 1, out other))
        && Measured(pass, now)?.Picture is { } one
        && Measured(pass, other)?.Picture is { } two
        && MovedBlocks(one.Blocks, two.Blocks, moved) > blocks * (one.Blocks.Length / 2);

    private static int MovedBlocks(byte[] one, byte[] two, double share)
    {
        int moved = 0;
        for (int b = 0; b + 1 < one.Length && b + 1 < two.Length; b += 2)
        {
            float a = (float)BinaryPrimitives.ReadHalfLittleEndian(one.AsSpan(b)),
                c = (float)BinaryPrimitives.ReadHalfLittleEndian(two.AsSpan(b));
            moved += MathF.Abs(a - c) > share * MathF.Max(MathF.Abs(a), 1e-3f) ? 1 : 0;
        }

        return moved;
    }
}
