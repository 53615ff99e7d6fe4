namespace DuneCrate.Crates;

/// <summary>How far the sealing is.</summary>
/// <param name="Doing">What is being done: copying, proving.</param>
/// <param name="Files">Files done.</param>
/// <param name="OfFiles">All files.</param>
/// <param name="Bytes">Bytes done.</param>
/// <param name="OfBytes">All bytes.</param>
public readonly record struct CrateProgress(string Doing, int Files, int OfFiles, long Bytes, long OfBytes);
