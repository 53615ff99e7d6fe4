using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;
using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Checking.Intake.Measures;

/// <summary>
/// Distances and their edges. An edge pixel has two pixels of one side to its left and two of the other, more than 5 % of the distance
/// away, to its right. A side may slope by a tenth of the step, as the silhouette of a round thing does. The pixel is clean when it
/// continues one of the sides (within 2 % of the step and the side's own slope), and lies where nothing is when it is between them. Two
/// pixels in between, one nearer to each side, are an edge that a wider filter made.
/// </summary>
internal sealed class DepthMeasure(int depth) : PassMeasure
{
    private const float Flat = 0.01f,
        Step = 0.05f,
        Side = 0.02f;

    /// <summary>How much of the step a side may differ from pixel to pixel.</summary>
    private const float Slope = 0.1f;

    /// <summary>
    /// How many times its last difference a side may go on by. At the rim of a sphere the distance goes with the root of what is left to
    /// the rim, so that the next difference is up to 1 / (√2 − 1) times the last.
    /// </summary>
    private const float Curve = 2.5f;

    /// <summary>
    /// Where two pixels as far apart as an edge's neighbours differ by less than this share, no edge is: a ramp has half of its step, more
    /// than <see cref="Step"/>, between them.
    /// </summary>
    private const float Suspect = 0.4f * Step;

    /// <summary>The greatest distance stands for the background when nothing lies between it and this share of it.</summary>
    private const double Gap = 0.5;

    private long _edges,
        _between,
        _pixels;
    private int[]? _at;

    public override IEnumerable<int> Needs => [depth];

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public override void AddLine(ScanLine line)
    {
        float[] z = line[depth];
        _pixels += z.Length;
        int x = 2;
        for (; x <= z.Length - 2 - Vector256<float>.Count; x += Vector256<float>.Count)
        {
            Vector256<float> left = Vector256.Create(z.AsSpan(x - 1)),
                right = Vector256.Create(z.AsSpan(x + 1));
            Vector256<float> least = Vector256.Min(Vector256.Abs(left), Vector256.Abs(right));
            if (Vector256.GreaterThanAny(Vector256.Abs(left - right), least * Suspect))
            {
                Test(line, z, x, x + Vector256<float>.Count);
            }
        }

        Test(line, z, x, z.Length - 2);
    }

    private void Test(ScanLine line, float[] z, int from, int to)
    {
        for (int x = from; x < to; x++)
        {
            (float a, float b, float c, float d, float e) = (z[x - 2], z[x - 1], z[x], z[x + 1], z[x + 2]);
            if (x + 3 < z.Length && IsRamp(a, b, c, d, e, z[x + 3]))
            {
                (_edges, _between) = (_edges + 1, _between + 1);
                _at ??= [line.Window.MinX + x, line.Y];
                continue;
            }

            float step = MathF.Abs(b - d),
                least = MathF.Min(MathF.Abs(b), MathF.Abs(d));
            if (!(step > Step * least) || !IsSide(a, b, step) || !IsSide(e, d, step))
            {
                continue;
            }

            _edges++;
            bool isBetween = (c > b && c < d) || (c < b && c > d);
            if (
                isBetween
                && MathF.Abs(c - b) > Side * step + Curve * MathF.Abs(a - b)
                && MathF.Abs(c - d) > Side * step + Curve * MathF.Abs(d - e)
            )
            {
                _between++;
                _at ??= [line.Window.MinX + x, line.Y];
            }
        }
    }

    /// <summary>Whether two pixels are of one side: flat, or sloping by little against the step.</summary>
    private static bool IsSide(float outer, float inner, float step) =>
        MathF.Abs(outer - inner) <= MathF.Max(Flat * MathF.Abs(inner), Slope * step);

    /// <summary>Whether two flat sides have two pixels between them, one nearer to each.</summary>
    private static bool IsRamp(float a, float b, float c, float d, float e, float f)
    {
        float one = (c - b) / (e - b),
            two = (d - b) / (e - b);
        return MathF.Abs(b - e) > Step * MathF.Min(MathF.Abs(b), MathF.Abs(e))
            && MathF.Abs(a - b) <= Flat * MathF.Abs(b)
            && MathF.Abs(e - f) <= Flat * MathF.Abs(e)
            && one is > Side and < 0.5f
            && two is > 0.5f and < 1 - Side;
    }

    public override PassFacts Finish(PassFacts facts, ChannelStatistics[] statistics)
    {
        SampleStatistics samples = statistics[depth].Finish();
        (double below, long atMost) = statistics[depth].BelowLargest();
        bool hasBackground = atMost > 0 && below < Gap * samples.Max && atMost > samples.Pixels / 1000;
        return facts with
        {
            Depth = new DepthFacts(
                hasBackground ? samples.Max
                    : samples.Inf > 0 ? double.MaxValue
                    : null,
                hasBackground ? atMost : samples.Inf,
                samples.Min,
                hasBackground ? below : samples.Max,
                _edges,
                _between,
                _at
            ),
        };
    }
}
