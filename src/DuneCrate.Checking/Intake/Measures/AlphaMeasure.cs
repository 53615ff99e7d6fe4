using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Checking.Intake.Measures;

/// <summary>
/// How colour goes with alpha: colour where alpha is 0 (emission, reflection and volume taken off, which may shine there), and colour above
/// alpha at soft edges,
/// which premultiplied colour rarely and straight colour usually has.
/// </summary>
internal abstract class AlphaMeasure(int[] colour, int alpha, int[][] glow) : PassMeasure
{
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
        if (own > SoftAlpha.Lit)
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
