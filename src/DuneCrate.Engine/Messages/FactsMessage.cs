using System.Collections.Immutable;

namespace DuneCrate.Engine.Messages;

/// <summary>What a worker found for a piece of work. What the piece was, the server knows itself.</summary>
/// <param name="Run">The run that the piece belongs to.</param>
/// <param name="Piece">Its name in the run.</param>
/// <param name="Token">The token that was given out with it.</param>
/// <param name="Worker">Who found it.</param>
/// <param name="Refused">Why nothing was read, in words; null when it was.</param>
/// <param name="Files">Facts in the order of the work's files.</param>
/// <param name="Sums">Results in the order of its sums; null where a file could not be read after all.</param>
public sealed record FactsMessage(
    string Run,
    string Piece,
    string Token,
    string Worker,
    string? Refused,
    ImmutableArray<FileFound> Files,
    ImmutableArray<SumFound> Sums
)
{
    /// <summary>The result of a piece of which nothing was read.</summary>
    public static FactsMessage Refusing(WorkMessage work, string worker, string why) =>
        new(work.Run, work.Piece, work.Token, worker, why, [], []);
}
