using System.Collections.Immutable;
using DuneCrate.Imaging.Pictures;
using DuneCrate.Planning.Model;

namespace DuneCrate.Checking.Pictures;

/// <summary>What one term of a sum has of the light at a pixel, beside what it has around it.</summary>
/// <param name="Term">The term in words: a pass, or two with × between.</param>
/// <param name="Passes">Its passes.</param>
/// <param name="Share">Its share of the sum at the pixel, 0..1.</param>
/// <param name="AroundShare">Its share around the pixel.</param>
/// <param name="Off">How far its value at the pixel lies from the median of its neighbours, in units of the sum around.</param>
public sealed record TermShare(string Term, ImmutableArray<string> Passes, double Share, double AroundShare, double Off)
{
    /// <summary>Pixels to each side that count as neighbours.</summary>
    public const int Around = 3;

    /// <summary>A quarter of the light around is more than grain does (common practice).</summary>
    private const double Odd = 0.25;

    /// <summary>Whether it is this term that makes the pixel unlike its neighbours.</summary>
    public bool StandsOut => Off > Odd;

    /// <summary>The terms, the one that is farthest from its neighbours first.</summary>
    /// <param name="terms">The sum.</param>
    /// <param name="factors">By pass: the pixels of one box, red, green and blue first.</param>
    /// <param name="x">The pixel within the box.</param>
    /// <param name="y">Its line.</param>
    public static ImmutableArray<TermShare> Of(
        IEnumerable<RebuildTerm> terms,
        IReadOnlyDictionary<string, PassPixels> factors,
        int x,
        int y
    )
    {
        var light = new List<(RebuildTerm Term, double Here, double Near)>();
        foreach (RebuildTerm term in terms.Where(t => t.Factors.All(factors.ContainsKey)))
        {
            PassPixels[] planes = [.. term.Factors.Select(f => factors[f])];
            (int width, int height) = (planes[0].Width, planes[0].Height);
            double At(int i) =>
                Enumerable
                    .Range(0, Math.Min(3, planes.Min(p => p.Channels.Length)))
                    .Sum(c => planes.Aggregate(1.0, (product, p) => product * p.Channels[c].Plane[i]));
            double[] others =
            [
                .. Enumerable.Range(0, width * height).Where(i => i != y * width + x).Select(At).Where(double.IsFinite).Order(),
            ];
            light.Add((term, At(y * width + x), others.Length == 0 ? 0 : others[others.Length / 2]));
        }

        double here = light.Sum(t => Math.Abs(t.Here)),
            near = light.Sum(t => Math.Abs(t.Near));
        return
        [
            .. light
                .Select(t => new TermShare(
                    t.Term.ToString(),
                    [.. t.Term.Factors],
                    here > 0 ? Math.Abs(t.Here) / here : 0,
                    near > 0 ? Math.Abs(t.Near) / near : 0,
                    double.IsFinite(t.Here) ? Math.Abs(t.Here - t.Near) / Math.Max(near, 1e-6) : double.PositiveInfinity
                ))
                .OrderByDescending(t => t.Off),
        ];
    }
}
