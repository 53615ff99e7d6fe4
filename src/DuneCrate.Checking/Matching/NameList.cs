using System.Collections.Immutable;

namespace DuneCrate.Checking.Matching;

/// <summary>Names of channels or passes in their order, as a verdict that files are grouped by. Equal when all names are.</summary>
/// <param name="Names">The names; at least one.</param>
public readonly record struct NameList(ImmutableArray<string> Names)
{
    /// <summary>How many there are.</summary>
    public int Count => Names.Length;

    /// <summary>The list, or null without a name.</summary>
    public static NameList? From(IEnumerable<string> names)
    {
        ImmutableArray<string> all = [.. names];
        return all.IsEmpty ? null : new NameList(all);
    }

    /// <inheritdoc/>
    public bool Equals(NameList other) => Names.AsSpan().SequenceEqual(other.Names.AsSpan());

    /// <inheritdoc/>
    public override int GetHashCode()
    {
        var hash = default(HashCode);
        foreach (string name in Names)
        {
            hash.Add(name, StringComparer.Ordinal);
        }

        return hash.ToHashCode();
    }

    /// <summary>The names with spaces between them.</summary>
    public override string ToString() => string.Join(' ', Names);
}
