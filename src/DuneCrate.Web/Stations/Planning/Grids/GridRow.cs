using System.Collections.Immutable;

namespace DuneCrate.Web.Stations.Planning.Grids;

/// <summary>A row of a grid.</summary>
/// <param name="Key">What edits call it.</param>
/// <param name="Label">Its head.</param>
/// <param name="Small">Second words in the head.</param>
/// <param name="Group">The head of the group it belongs to.</param>
/// <param name="Title">More about it.</param>
/// <param name="Total">What stands at its end.</param>
/// <param name="InUse">Whether any cell of it is filled.</param>
public sealed record GridRow(string Key, string Label, string Small, string Group, string Title, string Total, bool InUse)
{
    /// <summary>Other names that it is found by.</summary>
    public ImmutableArray<string> Aliases { get; init; } = [];
}
