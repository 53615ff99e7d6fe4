using System.Collections.Immutable;

namespace DuneCrate.Checking.Comparing;

/// <summary>Two files that stand for each other.</summary>
/// <param name="A">Path of the one.</param>
/// <param name="B">Path of the other.</param>
/// <param name="Equal">Whether all channels are there in both and equal within the tolerance.</param>
/// <param name="Channels">The channels that both have, by name.</param>
/// <param name="Notes">What else differs: windows, types, channels that one of them lacks, why one cannot be read.</param>
public sealed record FileDifference(
    string A,
    string B,
    bool Equal,
    ImmutableArray<ChannelDifference> Channels,
    ImmutableArray<string> Notes
);
