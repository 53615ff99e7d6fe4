using System.Collections.Immutable;

namespace DuneCrate.Engine.Runs;

/// <summary>What is given out as one message.</summary>
/// <param name="Id">Its name in the run; the same after a restart.</param>
/// <param name="Kind">Its queue.</param>
/// <param name="Places">Places in the run's listing, ascending.</param>
internal sealed record Piece(string Id, WorkKind Kind, ImmutableArray<int> Places)
{
    /// <summary>A piece for each place, for when one of them makes readers fail.</summary>
    public IEnumerable<Piece> Split() =>
        Places.Select((place, i) => new Piece(FormattableString.Invariant($"{Id}-{i}"), WorkKind.Single, [place]));
}
