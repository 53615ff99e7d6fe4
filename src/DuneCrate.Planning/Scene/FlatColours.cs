using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Imaging.Colour;

namespace DuneCrate.Planning.Scene;

/// <summary>
/// Flat colours for material ids: written #rrggbb, chosen far apart so that a selection by colour takes one and not its neighbour.
/// </summary>
public static class FlatColours
{
    /// <summary>Below this CIEDE2000 difference two colours are too near to be selected apart. Common practice.</summary>
    public const double TooNear = 12;

    /// <summary>Colours on an even grid of six steps a side (216), the greys that could be mistaken for shading left out.</summary>
    private static readonly ImmutableArray<(string Text, (double, double, double) Lab)> Grid =
    [
        .. from r in Enumerable.Range(0, 6)
        from g in Enumerable.Range(0, 6)
        from b in Enumerable.Range(0, 6)
        where !(r == g && g == b)
        let text = $"#{r * 51:x2}{g * 51:x2}{b * 51:x2}"
        select (text, CieDe2000.Lab((byte)(r * 51), (byte)(g * 51), (byte)(b * 51))),
    ];

    /// <summary>Reads #rrggbb.</summary>
    public static bool TryParse(string? text, out (byte Red, byte Green, byte Blue) colour)
    {
        colour = default;
        if (
            text is not { Length: 7 }
            || text[0] != '#'
            || !uint.TryParse(text.AsSpan(1), NumberStyles.AllowHexSpecifier, CultureInfo.InvariantCulture, out uint rgb)
        )
        {
            return false;
        }

        colour = ((byte)(rgb >> 16), (byte)(rgb >> 8), (byte)rgb);
        return true;
    }

    /// <summary>The CIEDE2000 difference of two colours; 0 when one cannot be read.</summary>
    public static double Difference(string one, string two) =>
        TryParse(one, out var a) && TryParse(two, out var b)
            ? CieDe2000.Difference(CieDe2000.Lab(a.Red, a.Green, a.Blue), CieDe2000.Lab(b.Red, b.Green, b.Blue))
            : 0;

    /// <summary>
    /// <paramref name="count"/> colours, each as far as possible from those kept and those chosen before it (farthest-point choice). Always
    /// the
    /// same for the same input. Beyond the grid's 210 colours none is left.
    /// </summary>
    public static ImmutableArray<string> FarApart(IReadOnlyCollection<string> kept, int count)
    {
        var labs = kept.Where(k => TryParse(k, out _))
            .Select(k =>
            {
                TryParse(k, out var c);
                return CieDe2000.Lab(c.Red, c.Green, c.Blue);
            })
            .ToList();
        double[] nearest = [.. Grid.Select(g => labs.Count == 0 ? double.MaxValue : labs.Min(l => CieDe2000.Difference(l, g.Lab)))];
        var chosen = ImmutableArray.CreateBuilder<string>();
        while (chosen.Count < Math.Min(count, Grid.Length))
        {
            int best =
                labs.Count == 0 && chosen.Count == 0
                    ? Grid.ToList().FindIndex(g => g.Text == "#ff0000")
                    : Array.IndexOf(nearest, nearest.Max());
            chosen.Add(Grid[best].Text);
            for (int i = 0; i < nearest.Length; i++)
            {
                nearest[i] = Math.Min(nearest[i], CieDe2000.Difference(Grid[best].Lab, Grid[i].Lab));
            }
        }

        return chosen.ToImmutable();
    }
}
