using System.Collections.Immutable;
using DuneCrate.Core.Images.Statistics;
using DuneCrate.Core.Passes;

namespace DuneCrate.Core.Intake.Measures;

/// <summary>
/// Measures one thing of one pass while its lines go by, from the top down. To add one, write a class beside this one, give <see cref="PassFacts"/> a field for
/// its result and name it in <see cref="Create"/>.
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
    /// <param name="width">Pixels of a line.</param>
    /// <param name="height">Lines.</param>
    public static IEnumerable<PassMeasure> Create(
        PassDefinition pass,
        IReadOnlyDictionary<string, int> own,
        ImmutableArray<ScanChannel> all,
        int width,
        int height
    )
    {
        int[] colour =
            own.ContainsKey("R") && own.ContainsKey("G") && own.ContainsKey("B") ? [own["R"], own["G"], own["B"]]
            : own.TryGetValue("Y", out int grey) ? [grey, grey, grey]
            : [];
        int fileAlpha = Enumerable.Range(0, all.Length).FirstOrDefault(c => all[c].Name == "A", -1);
        if (pass.Kind is PassKind.Combined or PassKind.Light && colour.Length > 0)
        {
            yield return colour.All(c => all[c].Type == ChannelType.Half)
                ? new HalfFireflies(colour, width, (long)width * height)
                : new FloatFireflies(colour, width, (long)width * height);
        }

        if (pass.Kind == PassKind.Combined && colour.Length > 0)
        {
            yield return new PictureMeasure(colour, width, height);
            if (own.TryGetValue("A", out int alpha))
            {
                yield return new AlphaMeasure(colour, alpha, GlowChannels(all), width);
            }
        }

        if (own.TryGetValue("A", out int cover) && pass.Kind is PassKind.Combined or PassKind.Light or PassKind.Factor)
        {
            yield return new CoverageMeasure(cover, width, height);
        }

        if (pass.Kind == PassKind.Modulate && (colour.Length > 0 || own.Count == 1))
        {
            yield return new GroundMeasure(colour.Length > 0 ? colour[1] : own.Values.First(), fileAlpha);
        }

        if (pass.Key == "depth" && own.Count == 1)
        {
            yield return new DepthMeasure(own.Values.First());
        }

        if (pass.Key == "normal" && own.Count >= 3)
        {
            int[] axes = own.ContainsKey("X") && own.ContainsKey("Y") && own.ContainsKey("Z") ? [own["X"], own["Y"], own["Z"]] : colour;
            if (axes.Length == 3)
            {
                yield return new NormalMeasure(axes, width, height);
            }
        }

        if (pass.Kind == PassKind.Identity && pass.Stem == "cryptomatte")
        {
            int[] ranks = CryptoMeasure.Ranks(own.Values.Select(c => (all[c].Name, c)));
            if (ranks.Length >= 2)
            {
                yield return new CryptoMeasure(ranks);
            }
        }
        else if (pass.Kind == PassKind.Identity && (colour.Length > 0 || own.Count == 1))
        {
            yield return new IdMeasure(
                own.Count == 1 ? [own.Values.First()]
                    : colour.Distinct().Count() == 1 ? [colour[0]]
                    : colour,
                all[own.Values.First()].Type
            );
        }
    }

    /// <summary>Red, green and blue of the passes that may shine where alpha is 0.</summary>
    private static int[][] GlowChannels(ImmutableArray<ScanChannel> all) =>
        [
            .. new[] { "emission", "reflection", "volume" }
                .Select(p =>
                    new[] { "R", "G", "B" }
                        .Select(c => Enumerable.Range(0, all.Length).FirstOrDefault(i => all[i].Pass == p && all[i].Last == c, -1))
                        .ToArray()
                )
                .Where(p => p.All(c => c >= 0)),
        ];
}
