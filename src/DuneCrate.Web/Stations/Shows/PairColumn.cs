namespace DuneCrate.Web.Stations.Shows;

/// <summary>A column of a table of pairs.</summary>
/// <param name="Field">The fields' name in the form.</param>
/// <param name="Label">Its head.</param>
/// <param name="Hint">An example.</param>
public sealed record PairColumn(string Field, string Label, string Hint);
