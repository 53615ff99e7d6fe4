namespace DuneCrate.Imaging.Statistics;

/// <summary>How colour goes with alpha.</summary>
/// <param name="Empty">Pixels whose alpha is 0.</param>
/// <param name="Lit">Those of them with colour above 0.001 that is neither emission nor reflection.</param>
/// <param name="Soft">Pixels whose alpha is between 0.02 and 0.98.</param>
/// <param name="Above">Those of them whose colour exceeds their alpha.</param>
/// <param name="At">x and y of the first lit one, or null.</param>
public sealed record AlphaFacts(long Empty, long Lit, long Soft, long Above, int[]? At)
{
    private const long LeastSoft = 200;

    /// <summary>Whether colour goes on where alpha is 0, as straight colour does.</summary>
    /// <param name="share">Share of the empty pixels that is tolerated.</param>
    public bool LooksStraight(double share) => Lit > share * Math.Max(1, Empty);

    /// <summary>Whether colour never exceeds alpha at soft edges, as straight colour seldom does.</summary>
    public bool LooksPremultiplied => Soft >= LeastSoft && Above == 0;
}
