namespace DuneCrate.Web.Stations.Planning.Grids;

/// <summary>A cell of a grid.</summary>
/// <param name="Text">What is edited, copied and pasted.</param>
/// <param name="Shown">What is drawn.</param>
/// <param name="Mark">Class words: on, off, differs, blocker, warning, note.</param>
/// <param name="Title">What hovering says.</param>
public sealed record GridCell(string Text, string Shown, string Mark, string Title);
