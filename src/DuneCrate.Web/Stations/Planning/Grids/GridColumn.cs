using System.Collections.Immutable;

namespace DuneCrate.Web.Stations.Planning.Grids;

/// <summary>A column of a grid.</summary>
/// <param name="Key">What edits call it.</param>
/// <param name="Label">Its head.</param>
/// <param name="Small">A second line in the head.</param>
/// <param name="Mark">Class words: off, based, locked.</param>
/// <param name="Title">More about it.</param>
/// <param name="Options">What may be typed; none for free text.</param>
public sealed record GridColumn(
    string Key,
    string Label,
    string Small = "",
    string Mark = "",
    string Title = "",
    ImmutableArray<string>? Options = null
);
