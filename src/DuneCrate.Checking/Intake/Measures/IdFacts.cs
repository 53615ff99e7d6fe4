using System.Collections.Immutable;

namespace DuneCrate.Checking.Intake.Measures;

/// <summary>The ids or flat colours of an identity pass.</summary>
/// <param name="Ids">The values met and their pixels, most frequent first, at most 256.</param>
/// <param name="HasMore">Whether there are more than those.</param>
/// <param name="Fractional">Pixels whose id is no whole number.</param>
/// <param name="Between">Pixels between two different ids that are neither.</param>
/// <param name="At">x and y of the first of those, or null.</param>
public sealed record IdFacts(ImmutableArray<IdCount> Ids, bool HasMore, long Fractional, long Between, int[]? At);
