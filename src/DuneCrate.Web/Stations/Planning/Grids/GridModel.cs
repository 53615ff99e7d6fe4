using System.Collections.Immutable;

namespace DuneCrate.Web.Stations.Planning.Grids;

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
