using System.Runtime.CompilerServices;
using DuneCrate.Core.Images.Statistics;

namespace DuneCrate.Core.Intake.Measures;

/// <summary>
/// How colour goes with alpha: colour where alpha is 0 (emission, reflection and volume taken off, which may shine there), and colour above
/// alpha at soft edges,
/// which premultiplied colour rarely and straight colour usually has.
/// </summary>
internal sealed class AlphaMeasure(int[] colour, int alpha, int[][] glow, int width) : PassMeasure
{
    private const float Lit = 1e-3f,
        SoftFrom = 0.02f,
        SoftTo = 0.98f;

    /// <summary>Whether an alpha is that of a soft edge.</summary>
    public static bool IsSoft(float alpha) => alpha is > SoftFrom and < SoftTo;

    /// <summary>The same of planes, where nothing is known of passes that shine beyond alpha.</summary>
    /// <param name="colour">Red, green and blue.</param>
    /// <param name="alpha">Alpha.</param>
    public static AlphaFacts Of(float[][] colour, float[] alpha)
    {
        long empty = 0,
            lit = 0,
            soft = 0,
            above = 0;
        for (int i = 0; i < alpha.Length; i++)
        {
            float brightest = MathF.Max(colour[0][i], MathF.Max(colour[1][i], colour[2][i]));
            if (alpha[i] <= 0)
            {
                empty++;
                lit += brightest > Lit ? 1 : 0;
            }
            else if (IsSoft(alpha[i]))
            {
                soft++;
                above += brightest > alpha[i] + Lit ? 1 : 0;
            }
        }

        return new AlphaFacts(empty, lit, soft, above, null);
    }

    private readonly float[] _brightest = new float[width];
    private long _empty,
        _lit,
        _soft,
        _above;
    private int[]? _at;

    public override IEnumerable<int> Needs => [.. colour, alpha, .. glow.SelectMany(g => g)];

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public override void AddLine(ScanLine line)
    {
        float[] cover = line[alpha];
        if (!cover.AsSpan().ContainsAnyInRange(float.NegativeInfinity, SoftTo))
        {
            return;
        }

        System.Numerics.Tensors.TensorPrimitives.Max(line[colour[0]], line[colour[1]], _brightest);
        System.Numerics.Tensors.TensorPrimitives.Max(_brightest, line[colour[2]], _brightest);
        for (int x = 0; x < cover.Length; x++)
        {
            float a = cover[x];
            if (a <= 0)
            {
                _empty++;
                if (_brightest[x] > Lit && Own(line, x) > Lit)
                {
                    _lit++;
                    _at ??= [line.Window.MinX + x, line.Y];
                }
            }
            else if (IsSoft(a))
            {
                _soft++;
                _above += _brightest[x] > a + Lit ? 1 : 0;
            }
        }
    }

    private float Own(ScanLine line, int x)
    {
        float most = 0;
        for (int c = 0; c < 3; c++)
        {
            float own = line[colour[c]][x];
            foreach (int[] pass in glow)
            {
                own -= line[pass[c]][x];
            }

            most = MathF.Max(most, own);
        }

        return most;
    }

    public override PassFacts Finish(PassFacts facts, ChannelStatistics[] statistics) =>
        facts with
        {
            Alpha = new AlphaFacts(_empty, _lit, _soft, _above, _at),
        };
}
