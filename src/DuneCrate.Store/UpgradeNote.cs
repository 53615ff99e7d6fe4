namespace DuneCrate.Store;

/// <summary>What people should know after a database was brought up to date by this start.</summary>
/// <param name="Words">In words; null where there is nothing to say.</param>
public sealed record UpgradeNote(string? Words);
