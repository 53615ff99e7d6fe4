using DuneCrate.Imaging;
using DuneCrate.Imaging.Stacking;

namespace DuneCrate.Crates;

/// <summary>Where the channels that strips of a test composite read are in a crate.</summary>
internal sealed class CrateStackPlaces
{
    private readonly ILookup<string, CrateSequence> _sequences;

    /// <summary>Notes where everything is.</summary>
    public CrateStackPlaces(IEnumerable<CrateSequence> sequences) =>
        _sequences = sequences
            .SelectMany(s => s.Outputs.Select(o => (o.Key, Sequence: s)))
            .ToLookup(s => s.Key, s => s.Sequence, StringComparer.Ordinal);

    /// <summary>The strip as it reads the crate; null when something that it reads does not go in.</summary>
    public StackStrip? InCrate(StackStrip strip)
    {
        if (strip.Root is not null || Find(strip.Source, strip.Channels) is not { } place)
        {
            return null;
        }

        StackMask? mask = null;
        if (strip.Mask is { } masked)
        {
            // A Cryptomatte is named by what its channels begin with, which is never changed.
            if (Find(masked.Source, masked.Named is null ? [masked.Channel] : []) is not { } home)
            {
                return null;
            }

            mask = masked with
            {
                Source = home.Sequence.Name.ToString(),
                Channel = masked.Named is null ? home.Channels[0] : masked.Channel,
            };
        }

        AlphaMode? alpha = place.Sequence.Passes.Select(p => p.Alpha).FirstOrDefault(a => a is not null);
        return strip with
        {
            Source = place.Sequence.Name.ToString(),
            Channels = place.Channels,
            Alpha = StackRecipe.AlphaOf(strip) is null ? strip.Alpha : alpha ?? strip.Alpha,
            Mask = mask,
            Hold = strip.Hold + place.Sequence.Shift,
        };
    }

    /// <summary>The first sequence that has all of some channels of an output, and what it calls them.</summary>
    private (CrateSequence Sequence, string[] Channels)? Find(string output, string[] channels)
    {
        foreach (CrateSequence sequence in _sequences[output])
        {
            string[] names = [.. channels.Select(c => NameIn(sequence, output, c)).OfType<string>()];
            if (names.Length == channels.Length)
            {
                return (sequence, names);
            }
        }

        return null;
    }

    private static string? NameIn(CrateSequence sequence, string output, string channel) =>
        // What no pass has is there only where files are as they were.
        !sequence.IsConverted
            ? channel
            : sequence
                .Passes.Where(p => p.Output.Key == output)
                .SelectMany(p => p.Channels)
                .FirstOrDefault(c => c.Stored == channel || c.Planned == channel)
                ?.Name;
}
