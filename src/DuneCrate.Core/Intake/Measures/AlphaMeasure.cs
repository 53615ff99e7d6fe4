using DuneCrate.Core.Images.Statistics;

namespace DuneCrate.Core.Intake.Measures;

/// <summary>
/// How colour goes with alpha: colour where alpha is 0 (emission, reflection and volume taken off, which may shine there), and colour above
/// alpha at soft edges,
/// which premultiplied colour rarely and straight colour usually has.
/// </summary>
internal abstract class AlphaMeasure(int[] colour, int alpha, int[][] glow) : PassMeasure
{
    /// <summary>Colour above this shines.</summary>
    protected const float Lit = 1e-3f;

    /// <summary>Between these two an alpha is that of a soft edge.</summary>
    protected const float SoftFrom = 0.02f,
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

    private long _lit;
    private int[]? _at;

    /// <summary>Red, green and blue.</summary>
    protected int[] Colour { get; } = colour;

    /// <summary>Alpha.</summary>
    protected int Alpha { get; } = alpha;

    /// <summary>Red, green and blue of passes that may shine where alpha is 0.</summary>
    protected int[][] Glow { get; } = glow;

    /// <summary>Pixels whose alpha is 0.</summary>
    protected long Empty { get; set; }

    /// <summary>Pixels of soft edges.</summary>
    protected long Soft { get; set; }

    /// <summary>Those of them whose colour is above alpha.</summary>
    protected long Above { get; set; }

    /// <summary>The greatest of three colours; NaN when one is.</summary>
    protected static float Brightest(float red, float green, float blue) => MathF.Max(MathF.Max(red, green), blue);

    /// <summary>Counts a pixel without alpha whose colour shines by itself.</summary>
    /// <param name="own">The greatest of its colours without what may shine there.</param>
    /// <param name="x">Its place.</param>
    /// <param name="y">Its line.</param>
    protected void NoteLit(float own, int x, int y)
    {
        if (own > Lit)
        {
            _lit++;
            _at ??= [x, y];
        }
    }

    public override PassFacts Finish(PassFacts facts, ChannelStatistics[] statistics) =>
        facts with
        {
            Alpha = new AlphaFacts(Empty, _lit, Soft, Above, _at),
        };
}
