using System.Collections.Immutable;

namespace DuneCrate.Checking.Remedies;

/// <summary>What a renaming came to.</summary>
/// <param name="Problem">What could not be done and what was done about it, for people; null when all is done.</param>
/// <param name="Left">Files that have their new names although they should not.</param>
public sealed record RenameOutcome(string? Problem, ImmutableArray<Rename> Left)
{
    /// <summary>All is done.</summary>
    public static readonly RenameOutcome Done = new(null, []);
}
