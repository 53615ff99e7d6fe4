using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging.Cryptomatte;

namespace DuneCrate.Imaging.Pictures;

/// <summary>
/// Masks out of a Cryptomatte: each rank holds an id and its coverage in two channels in turn, and a mask is the sum of the coverage of
/// its id over all ranks. Source: Cryptomatte specification 1.2, "Extracting mattes".
/// </summary>
public static class CryptoMask
{
    /// <summary>The mask of a name.</summary>
    /// <param name="ranks">The channels of all ranks, id and coverage in turn.</param>
    /// <param name="name">The name.</param>
    public static PassPixels Of(PassPixels ranks, string name) => Of(ranks, CryptomatteHash.ToFloat(CryptomatteHash.OfName(name)));

    /// <summary>The mask of an id, as one channel between 0 and 1.</summary>
    public static PassPixels Of(PassPixels ranks, float id)
    {
        float[] mask = new float[ranks.Width * ranks.Height];
        foreach ((float[] ids, float[] coverage) in Ranks(ranks))
        {
            for (int i = 0; i < mask.Length; i++)
            {
                if (ids[i] == id)
                {
                    mask[i] += coverage[i];
                }
            }
        }

        return ranks with
        {
            Definition = PassDefinition.Create(PassKind.Mask, "mask", "mask"),
            Channels = [("A", mask)],
        };
    }

    /// <summary>The ids in a picture with the share of it that each covers, the largest first.</summary>
    public static ImmutableArray<(float Id, double Share)> Covered(PassPixels ranks)
    {
        var sums = new Dictionary<float, double>();
        foreach ((float[] ids, float[] coverage) in Ranks(ranks))
        {
            for (int i = 0; i < ids.Length; i++)
            {
                if (ids[i] != 0 && coverage[i] > 0 && float.IsFinite(ids[i]))
                {
                    sums[ids[i]] = sums.GetValueOrDefault(ids[i]) + coverage[i];
                }
            }
        }

        double pixels = Math.Max(1, ranks.Width * (double)ranks.Height);
        return [.. sums.OrderByDescending(s => s.Value).Select(s => (s.Key, s.Value / pixels))];
    }

    /// <summary>The names of a manifest by their id; empty for one that cannot be read.</summary>
    /// <param name="manifest">JSON: name and hash as eight hexadecimal digits.</param>
    public static ImmutableDictionary<float, string> Names(string? manifest)
    {
        try
        {
            using JsonDocument document = JsonDocument.Parse(manifest ?? "{}");
            var names = ImmutableDictionary.CreateBuilder<float, string>();
            foreach (JsonProperty entry in document.RootElement.EnumerateObject())
            {
                if (uint.TryParse(entry.Value.GetString(), NumberStyles.HexNumber, CultureInfo.InvariantCulture, out uint bits))
                {
                    names[BitConverter.UInt32BitsToSingle(bits)] = entry.Name;
                }
            }

            return names.ToImmutable();
        }
        catch (Exception e) when (e is JsonException or InvalidOperationException)
        {
            return ImmutableDictionary<float, string>.Empty;
        }
    }

    private static IEnumerable<(float[] Ids, float[] Coverage)> Ranks(PassPixels ranks)
    {
        int[] order = CryptomatteRanks.Order(ranks.Channels.Select((c, i) => (c.Channel, i)));
        for (int r = 0; r < order.Length; r += 2)
        {
            yield return (ranks.Channels[order[r]].Plane, ranks.Channels[order[r + 1]].Plane);
        }
    }
}
