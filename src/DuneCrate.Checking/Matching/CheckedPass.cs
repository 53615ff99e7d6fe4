using System.Collections.Immutable;
using DuneCrate.Foundation.Passes;

namespace DuneCrate.Checking.Matching;

/// <summary>A pass as it should be found in the files of a output.</summary>
/// <param name="Name">Key of the pass.</param>
/// <param name="Definition">Its entry in the catalogue, or null.</param>
/// <param name="Channels">Channel names with their planned types.</param>
/// <param name="Number">Its place among the passes of its output.</param>
public sealed record CheckedPass(
    string Name,
    PassDefinition? Definition,
    ImmutableArray<(string Name, ChannelType Type)> Channels,
    int Number
);
