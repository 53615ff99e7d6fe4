using DuneCrate.Foundation.Storage;

namespace DuneCrate.Crates.Deltas;

/// <summary>An older crate that a delta is made onto.</summary>
/// <param name="Manifest">What it holds.</param>
/// <param name="Sums">Its checksums.</param>
/// <param name="Digest">SHA-256 of the list.</param>
public sealed record OntoBase(CrateManifest Manifest, ChecksumList Sums, string Digest)
{
    /// <summary>Reads an older crate's documents; its files are not read.</summary>
    /// <exception cref="CrateRefusedException">It is no whole crate, or of another shot.</exception>
    public static OntoBase Read(StoragePath crate, string? shot = null)
    {
        CrateManifest manifest =
            CrateVerifier.ManifestOf(crate)
            ?? throw new CrateRefusedException($"{crate} is no crate: it has no valid {CrateManifest.FileName}. Name a crate's folder.");
        if (shot is not null && manifest.Shot != shot)
        {
            throw new CrateRefusedException($"{crate} is a crate of {manifest.Shot}; a delta of {shot} goes onto a crate of {shot}.");
        }

        if (crate.At(ChecksumList.CarriedFileName).IsThere)
        {
            throw new CrateRefusedException(
                $"{crate} is a delta itself. Join it with the crate that it was made onto, then go on from the joined one."
            );
        }

        string text;
        ChecksumList sums;
        try
        {
            text = crate.At(ChecksumList.FileName).ReadText(ChecksumList.MostBytes);
            sums = ChecksumList.Read(text);
        }
        catch (Exception e) when (e is FormatException or IOException or UnauthorizedAccessException)
        {
            throw new CrateRefusedException($"{crate} has no list of checksums that can be read: {e.Message}");
        }

        return manifest.Contents is { } contents && contents != sums.Digest()
            ? throw new CrateRefusedException(
                $"{crate} was changed: its checksums are not those that its {CrateManifest.FileName} speaks of."
            )
            : new OntoBase(manifest, sums, ChecksumList.Digest(text));
    }
}
