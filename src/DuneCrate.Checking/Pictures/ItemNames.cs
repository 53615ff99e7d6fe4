using System.Globalization;
using DuneCrate.Foundation.Passes;
using DuneCrate.Planning.Scene;

namespace DuneCrate.Checking.Pictures;

/// <summary>Names of items by what passes of ids hold of them at a pixel.</summary>
public static class ItemNames
{
    private const int MostShown = 3;
    private const double LeastShare = 0.005;

    /// <summary>The names at a pixel, in words; null when the pass holds no ids or none that has a name.</summary>
    /// <param name="pass">The pass.</param>
    /// <param name="samples">Its samples at the pixel, in the order of its channels.</param>
    /// <param name="items">The items of the plan.</param>
    /// <param name="mattes">Names by id of the Cryptomattes of its file.</param>
    public static string? At(
        PassDefinition? pass,
        IReadOnlyList<float> samples,
        IEnumerable<SceneItem> items,
        IReadOnlyDictionary<float, string> mattes
    )
    {
        if (pass is null || samples.Count == 0)
        {
            return null;
        }

        if (pass.Has(PassMeasures.ObjectIds))
        {
            return items.FirstOrDefault(i => i.Id is { } id && id == samples[0])?.Name;
        }

        if (pass.Has(PassMeasures.MaterialColours) && samples.Count >= 3)
        {
            string colour = string.Concat(samples.Take(3).Select(s => ((int)Math.Round(255 * Math.Clamp(s, 0, 1))).ToString("x2")));
            return items.FirstOrDefault(i => i.Colour == "#" + colour)?.Name;
        }

        return pass.Has(PassMeasures.Cryptomatte) ? Mattes(samples, mattes) : null;
    }

    /// <summary>The ranks by name with their coverage, id and coverage in turn.</summary>
    private static string? Mattes(IReadOnlyList<float> samples, IReadOnlyDictionary<float, string> mattes)
    {
        string[] names =
        [
            .. Enumerable
                .Range(0, samples.Count / 2)
                .Select(rank => (Id: samples[2 * rank], Share: samples[2 * rank + 1]))
                .Where(r => r.Share > LeastShare && mattes.ContainsKey(r.Id))
                .OrderByDescending(r => r.Share)
                .Take(MostShown)
                .Select(r => string.Create(CultureInfo.InvariantCulture, $"{mattes[r.Id]} {r.Share:0.##}")),
        ];
        return names.Length > 0 ? string.Join(", ", names) : null;
    }
}
