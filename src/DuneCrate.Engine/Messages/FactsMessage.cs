using System.Collections.Immutable;
using DuneCrate.Core.Rebuild;

namespace DuneCrate.Engine.Messages;

/// <summary>What a worker found for a piece of work.</summary>
/// <param name="Work">The work, so that the facts stand for themselves.</param>
/// <param name="Worker">Who found it.</param>
/// <param name="Refused">Why nothing was read, in words; null when it was.</param>
/// <param name="Files">Facts in the order of the work's files.</param>
/// <param name="Sums">Results in the order of its sums; null where a file could not be read after all.</param>
public sealed record FactsMessage(
    WorkMessage Work,
    string Worker,
    string? Refused,
    ImmutableArray<FileFound> Files,
    ImmutableArray<RebuildFacts?> Sums
);
