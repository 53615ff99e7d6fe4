namespace DuneCrate.Web.Stations.Looking;

/// <summary>One picture of a sheet.</summary>
/// <param name="Label">What it is.</param>
/// <param name="Small">What it belongs to.</param>
/// <param name="Picture">Address of the picture.</param>
/// <param name="Look">Address of the viewer with it.</param>
/// <param name="Mark">The mark of what was found in it.</param>
/// <param name="Said">That, in words; empty for nothing.</param>
public sealed record SheetPicture(string Label, string Small, string Picture, string Look, string Mark, string Said);
