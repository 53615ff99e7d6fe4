using System.Collections.Immutable;

namespace DuneCrate.Engine.Messages;

/// <summary>A file of a sum.</summary>
/// <param name="Path">Path below the folder.</param>
/// <param name="Channels">The recipe's channels that it gives.</param>
/// <param name="Held">The one pass that it holds, or null.</param>
public sealed record SumFile(string Path, ImmutableArray<string> Channels, HeldMessage? Held);
