using System.Collections.Immutable;

namespace DuneCrate.Crates;

/// <summary>What reading a crate back showed.</summary>
/// <param name="Manifest">Its manifest.</param>
/// <param name="Files">Files that were checked.</param>
/// <param name="Bytes">Bytes that were read.</param>
/// <param name="Problems">What is changed, missing or added, one line each; empty for a whole crate.</param>
public sealed record CrateProof(CrateManifest Manifest, int Files, long Bytes, ImmutableArray<string> Problems)
{
    /// <summary>Whether everything is as it was sealed.</summary>
    public bool IsWhole => Problems.IsEmpty;

    /// <summary>Files that a delta leaves to the crate that it was made onto; null for a whole crate.</summary>
    public int? Carried { get; init; }
}
