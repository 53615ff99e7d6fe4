using DuneCrate.Checking.Intake;
using DuneCrate.Crates.Converting;
using DuneCrate.Crates.Recipes;
using DuneCrate.Foundation.Passes;

namespace DuneCrate.Crates;

/// <summary>What a crate costs, estimated before anything is made: packed bytes follow the raw bytes of what goes in.</summary>
/// <param name="Files">Files of pictures.</param>
/// <param name="Bytes">Their bytes.</param>
/// <param name="BytesAsTheyAre">Bytes of the same files as they were rendered.</param>
/// <param name="BytesToSeeOne">Bytes that must be read to see the lead pass at one frame: lines of all channels lie together in a file of
/// one part, while parts are read alone.</param>
public sealed record CrateCost(int Files, long Bytes, long BytesAsTheyAre, long BytesToSeeOne)
{
    /// <summary>The cost of some contents.</summary>
    public static CrateCost Of(CrateContents contents)
    {
        double bytes = 0,
            toSee = 0;
        foreach (CrateSequence sequence in contents.Sequences)
        {
            double share = Share(sequence);
            double all = sequence.Files.Sum(f => f.Conversion is null ? f.Bytes : f.Bytes * share);
            bytes += all;
            PackedPass? lead = sequence.Passes.FirstOrDefault(p => p.Plan.Pass == PassKeys.Beauty);
            if (toSee == 0 && lead is not null && sequence.Files.Length > 0)
            {
                bool isAlone = contents.Recipe.Files == RecipeFiles.Parts && sequence.IsConverted;
                double own = isAlone ? Raw(lead.Channels) / Math.Max(1, sequence.Passes.Sum(p => Raw(p.Channels))) : 1;
                toSee = all / sequence.Files.Length * own;
            }
        }

        return new CrateCost(contents.Files, (long)bytes, contents.Bytes, (long)toSee);
    }

    /// <summary>Raw bytes of a pixel in what is made, over those in what it is made of.</summary>
    private static double Share(CrateSequence sequence)
    {
        double made = sequence.Passes.Sum(p => Raw(p.Channels)),
            was = sequence
                .Passes.Select(p => p.Facts)
                .OfType<FileFacts>()
                .Distinct()
                .Sum(f => f.Channels.DistinctBy(c => c.StoredAs ?? c.Name).Sum(c => c.Type.Bytes()));
        FileConversion? conversion = sequence.Files.Select(f => f.Conversion).FirstOrDefault(c => c is not null);
        bool isBare = conversion?.Compression?.Name == "none";
        return was > 0 ? made / was / (isBare ? Packed : 1) : 1;
    }

    /// <summary>Packed bytes over raw ones, where nothing was measured. Common practice for ZIP of rendered pictures.</summary>
    private const double Packed = 0.5;

    private static double Raw(IEnumerable<PackedChannel> channels) => channels.Sum(c => c.Type.Bytes());
}
