namespace DuneCrate.Web.Stations.Shows;

/// <summary>A table of pairs with a blank row at its end.</summary>
/// <param name="Form">Where problems stand.</param>
/// <param name="Rows">The pairs.</param>
/// <param name="First">The column of names.</param>
/// <param name="Second">The column of values.</param>
public sealed record PairTable(SettingsForm Form, IReadOnlyList<PairFields> Rows, PairColumn First, PairColumn Second);
