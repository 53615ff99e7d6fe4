using System.Collections.Immutable;

namespace DuneCrate.Checking.Reports;

/// <summary>What a person has in hand.</summary>
/// <param name="To">The person.</param>
/// <param name="Findings">The findings, by shot.</param>
public sealed record HandsLine(string To, ImmutableArray<HandedFinding> Findings);
