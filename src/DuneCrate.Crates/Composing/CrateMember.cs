using System.Collections.Immutable;
using DuneCrate.Checking.Matching;
using DuneCrate.Planning.Model;

namespace DuneCrate.Crates.Composing;

/// <summary>A rendered file that takes part in a file of the crate, with the passes that are taken of it.</summary>
/// <param name="Piece">The output it belongs to.</param>
/// <param name="File">The file.</param>
/// <param name="Passes">The passes.</param>
internal sealed record CrateMember(CratePiece Piece, CheckedFile File, ImmutableArray<PassPlan> Passes);
