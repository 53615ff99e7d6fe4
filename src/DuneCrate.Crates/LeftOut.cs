namespace DuneCrate.Crates;

/// <summary>A file that stays out, and why.</summary>
/// <param name="Path">Path below the folder.</param>
/// <param name="Bytes">Size.</param>
/// <param name="Why">The reason, which may be that of many files.</param>
/// <param name="Rename">The name that it should have, or null.</param>
public sealed record LeftOut(string Path, long Bytes, string Why, string? Rename = null);
