using System.Collections.Immutable;

namespace DuneCrate.Web.Planning.Grids;

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

/// <summary>A row of a grid.</summary>
/// <param name="Key">What edits call it.</param>
/// <param name="Label">Its head.</param>
/// <param name="Small">Second words in the head.</param>
/// <param name="Group">The head of the group it belongs to.</param>
/// <param name="Title">More about it.</param>
/// <param name="Total">What stands at its end.</param>
/// <param name="InUse">Whether any cell of it is filled.</param>
public sealed record GridRow(string Key, string Label, string Small, string Group, string Title, string Total, bool InUse);

/// <summary>A cell of a grid.</summary>
/// <param name="Text">What is edited, copied and pasted.</param>
/// <param name="Shown">What is drawn.</param>
/// <param name="Mark">Class words: on, off, differs, blocker, warning, note.</param>
/// <param name="Title">What hovering says.</param>
public sealed record GridCell(string Text, string Shown, string Mark, string Title);

/// <summary>A line below a grid.</summary>
public sealed record GridFoot(string Label, ImmutableArray<string> Texts, string Total);

/// <summary>Everything a page draws of one grid: columns, rows, cells row by row, and the lines below.</summary>
public sealed record GridModel
{
    /// <summary>Which grid: sheet, roles, scene, settings, files.</summary>
    public required string View { get; init; }

    /// <summary>The plan's revision that it shows.</summary>
    public required int Revision { get; init; }

    /// <summary>Columns.</summary>
    public required ImmutableArray<GridColumn> Columns { get; init; }

    /// <summary>Rows.</summary>
    public required ImmutableArray<GridRow> Rows { get; init; }

    /// <summary>Cells, row by row.</summary>
    public required ImmutableArray<ImmutableArray<GridCell>> Cells { get; init; }

    /// <summary>Lines below.</summary>
    public ImmutableArray<GridFoot> Feet { get; init; } = [];

    /// <summary>What the corner says.</summary>
    public string Corner { get; init; } = "";

    /// <summary>What stands above the rows' totals.</summary>
    public string TotalHead { get; init; } = "";

    /// <summary>One line about the whole.</summary>
    public string Summary { get; init; } = "";

    /// <summary>What undo would take back, or null.</summary>
    public string? Undo { get; init; }

    /// <summary>What redo would make again, or null.</summary>
    public string? Redo { get; init; }
}
