namespace DuneCrate.Store.Keeping;

/// <summary>What a backup holds.</summary>
/// <param name="File">The backup.</param>
/// <param name="Bytes">Its size.</param>
/// <param name="Files">Files beside the database that are in it.</param>
/// <param name="LeftOut">What was left out, in words.</param>
public sealed record BackupContents(string File, long Bytes, int Files, IReadOnlyList<string> LeftOut);
