using System.Collections.Immutable;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging.Cryptomatte;
using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Checking.Intake.Measures;

/// <summary>
/// Measures one thing of one pass while its lines go by, from the top down. To add one, write a class
/// beside this one, give <see cref="PassFacts"/> a field for its result and <see cref="PassMeasures"/> a name, and make it in
/// <see cref="Create"/>.
/// </summary>
internal abstract class PassMeasure
{
    /// <summary>Indices of the channels that must be there as floats.</summary>
    public abstract IEnumerable<int> Needs { get; }

    /// <summary>Takes a band as it is stored, before its lines come as floats; the statistics have already counted its samples.</summary>
    public virtual void AddBand(in ScanBand band, ChannelStatistics[] statistics) { }

    /// <summary>Takes the next line. Lines that are lost are left out.</summary>
    public virtual void AddLine(ScanLine line) { }

    /// <summary>Adds the result to the pass's facts.</summary>
    public abstract PassFacts Finish(PassFacts facts, ChannelStatistics[] statistics);

    /// <summary>The measures of one pass.</summary>
    /// <param name="pass">Its entry in the catalogue.</param>
    /// <param name="own">Its channels, by last name.</param>
    /// <param name="all">All channels of the file.</param>
    /// <param name="catalogue">The catalogue.</param>
    /// <param name="width">Pixels of a line.</param>
    /// <param name="height">Lines.</param>
    public static IEnumerable<PassMeasure> Create(
        PassDefinition pass,
        IReadOnlyDictionary<string, int> own,
        ImmutableArray<ScanChannel> all,
        PassCatalogue catalogue,
        int width,
        int height
    )
    {
        int[] colour =
            own.ContainsKey("R") && own.ContainsKey("G") && own.ContainsKey("B") ? [own["R"], own["G"], own["B"]]
            : own.TryGetValue("Y", out int grey) ? [grey, grey, grey]
            : [];
        int single = own.Count == 1 ? own.Values.First() : -1;
        bool hasAlpha = own.TryGetValue("A", out int alpha);
        if (pass.Has(PassMeasures.Fireflies) && colour.Length > 0)
        {
            yield return colour.All(c => all[c].Type == ChannelType.Half)
                ? new HalfFireflies(colour, width, (long)width * height)
                : new FloatFireflies(colour, width, (long)width * height);
        }

        if (pass.Has(PassMeasures.Picture) && colour.Length > 0)
        {
            yield return new PictureMeasure(colour, width, height);
        }

        if (pass.Has(PassMeasures.Alpha) && colour.Length > 0 && hasAlpha)
        {
            int[][] glow = GlowChannels(all, catalogue);
            yield return glow.SelectMany(g => g).Concat(colour).Append(alpha).All(c => all[c].Type == ChannelType.Half)
                ? new HalfAlpha(colour, alpha, glow)
                : new FloatAlpha(colour, alpha, glow, width);
        }

        if (pass.Has(PassMeasures.Coverage) && hasAlpha)
        {
            yield return new CoverageMeasure(alpha, width, height);
        }

        if (pass.Has(PassMeasures.Ground) && (colour.Length > 0 || single >= 0))
        {
            int fileAlpha = Enumerable.Range(0, all.Length).FirstOrDefault(c => all[c].Name == "A", -1);
            yield return new GroundMeasure(colour.Length > 0 ? colour[1] : single, fileAlpha);
        }

        if (pass.Has(PassMeasures.Depth) && single >= 0)
        {
            yield return new DepthMeasure(single);
        }

        if (pass.Has(PassMeasures.Normal) && own.Count >= 3)
        {
            int[] axes = own.ContainsKey("X") && own.ContainsKey("Y") && own.ContainsKey("Z") ? [own["X"], own["Y"], own["Z"]] : colour;
            if (axes.Length == 3)
            {
                yield return new NormalMeasure(axes, width, height);
            }
        }

        if (
            pass.Has(PassMeasures.Cryptomatte) && CryptomatteRanks.Order(own.Values.Select(c => (all[c].Name, c))) is { Length: >= 2 } ranks
        )
        {
            yield return new CryptoMeasure(ranks);
        }

        if (pass.Has(PassMeasures.ObjectIds | PassMeasures.MaterialColours) && (colour.Length > 0 || single >= 0))
        {
            yield return new IdMeasure(
                single >= 0 ? [single]
                    : colour.Distinct().Count() == 1 ? [colour[0]]
                    : colour,
                all[own.Values.First()].Type
            );
        }
    }

    /// <summary>Red, green and blue of the passes that may shine where alpha is 0.</summary>
    private static int[][] GlowChannels(ImmutableArray<ScanChannel> all, PassCatalogue catalogue) =>
        [
            .. all.Select(c => c.Pass)
                .Distinct()
                .Where(p => p is not null && catalogue.Find(p)?.Has(PassMeasures.Glow) == true)
                .Select(p =>
                    new[] { "R", "G", "B" }
                        .Select(c => Enumerable.Range(0, all.Length).FirstOrDefault(i => all[i].Pass == p && all[i].Last == c, -1))
                        .ToArray()
                )
                .Where(p => p.All(c => c >= 0)),
        ];
}
