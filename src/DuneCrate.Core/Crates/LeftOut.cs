namespace DuneCrate.Core.Crates;

/// <summary>A file that stays out, and why.</summary>
public sealed record LeftOut(string Path, long Bytes, string Why);
