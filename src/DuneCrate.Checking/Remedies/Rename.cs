namespace DuneCrate.Checking.Remedies;

/// <summary>One file's way to its right name, both relative to the folder.</summary>
/// <param name="From">The name it has.</param>
/// <param name="To">The name it should have.</param>
public sealed record Rename(string From, string To);
