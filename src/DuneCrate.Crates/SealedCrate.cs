using DuneCrate.Foundation.Storage;

namespace DuneCrate.Crates;

/// <summary>A crate that was sealed.</summary>
/// <param name="Folder">Its folder.</param>
/// <param name="Name">Its name.</param>
/// <param name="Files">All files in it.</param>
/// <param name="Bytes">Their bytes.</param>
/// <param name="SumsDigest">SHA-256 of its list of checksums, to be kept elsewhere.</param>
public sealed record SealedCrate(StoragePath Folder, string Name, int Files, long Bytes, string SumsDigest);
