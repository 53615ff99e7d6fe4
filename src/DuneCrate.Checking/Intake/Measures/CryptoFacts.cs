using System.Collections.Immutable;

namespace DuneCrate.Checking.Intake.Measures;

/// <summary>Ranks of a Cryptomatte.</summary>
/// <param name="Rising">Pixels where a later rank covers more than an earlier one.</param>
/// <param name="Over">Pixels whose coverages sum to more than 1.001.</param>
/// <param name="WorstSum">The greatest sum.</param>
/// <param name="Ids">The ids met and their pixels, most frequent first, at most 4,096.</param>
/// <param name="HasMore">Whether there are more than those.</param>
/// <param name="At">x and y of the first pixel that is wrong, or null.</param>
public sealed record CryptoFacts(long Rising, long Over, double WorstSum, ImmutableArray<IdCount> Ids, bool HasMore, int[]? At);
