using System.Collections.Immutable;

namespace DuneCrate.Shots.Planning;

/// <summary>What a change came to.</summary>
/// <param name="Revision">The plan's revision now.</param>
/// <param name="Conflicts">What somebody else changed differently meanwhile; nothing was saved then.</param>
/// <param name="Problem">Why the change was refused, or null.</param>
/// <param name="Field">The field that the problem stands at.</param>
/// <param name="Said">What was done, in words.</param>
public sealed record EditOutcome(int Revision, ImmutableArray<string> Conflicts, string? Problem, string? Field, string? Said)
{
    /// <summary>Whether it was saved, or there was nothing to change.</summary>
    public bool IsDone => Problem is null && Conflicts.IsEmpty;
}
