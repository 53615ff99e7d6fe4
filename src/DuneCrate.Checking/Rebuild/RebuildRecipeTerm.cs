using System.Collections.Immutable;

namespace DuneCrate.Checking.Rebuild;

/// <summary>One addend.</summary>
/// <param name="Name">Name for people.</param>
/// <param name="Factors">One or two sets of three channel names.</param>
public sealed record RebuildRecipeTerm(string Name, ImmutableArray<ImmutableArray<string>> Factors);
