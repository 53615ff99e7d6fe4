using DuneCrate.Foundation.Storage;

namespace DuneCrate.Crates.Deltas;

/// <summary>Makes a whole crate of a sealed one and a delta that was made onto it. Both stay as they are.</summary>
public static class CrateJoin
{
    /// <summary>Joins them. The result is the crate that would have been sealed without the older one, signature and all.</summary>
    /// <param name="older">The older crate.</param>
    /// <param name="delta">The delta.</param>
    /// <param name="destination">Where the crate's folder is put, under the delta's name.</param>
    /// <param name="progress">Told after every file that is read back.</param>
    /// <param name="cancel">Stops; nothing is left.</param>
    /// <exception cref="CrateRefusedException">They do not belong together, one is not whole, or there is a crate of this name
    /// already.</exception>
    /// <exception cref="FormatException">The delta is no crate.</exception>
    /// <exception cref="IOException">The disk refuses.</exception>
    public static SealedCrate Join(
        StoragePath older,
        StoragePath delta,
        StoragePath destination,
        IProgress<CrateProgress>? progress,
        CancellationToken cancel
    )
    {
        CrateProof proof = CrateVerifier.Verify(delta, null, cancel);
        CrateManifest manifest = proof.Manifest;
        if (manifest.Onto is not { } onto || proof.Carried is null)
        {
            throw new CrateRefusedException($"{delta} is no delta: it was not sealed onto another crate, so there is nothing to join.");
        }

        if (!proof.IsWhole)
        {
            throw new CrateRefusedException($"The delta {delta} is not whole: {proof.Problems[0]}. Get it again.");
        }

        OntoBase below = OntoBase.Read(older);
        if (below.Digest != onto.Sums)
        {
            throw new CrateRefusedException(
                below.Manifest.Name == onto.Name
                    ? $"{older} is called {onto.Name} and is not the one that the delta was made onto: its checksums differ."
                    : $"The delta was made onto {onto.Name}, and {older} is {below.Manifest.Name}. Name the folder of {onto.Name}."
            );
        }

        StoragePath final = destination.At(manifest.Name);
        if (final.IsThere)
        {
            throw new CrateRefusedException($"{final} is there already. Name another folder with --to, or move it away.");
        }

        ChecksumList sums = ChecksumList.Read(delta.At(ChecksumList.FileName).ReadText(ChecksumList.MostBytes)),
            carried = ChecksumList.Read(delta.At(ChecksumList.CarriedFileName).ReadText(ChecksumList.MostBytes));
        var id = Guid.NewGuid();
        return new CratePublishing(destination, TimeProvider.System).Publish(
            manifest.Name,
            id,
            bytes: 0,
            work =>
            {
                var whole = new ChecksumList();
                var contents = new Dictionary<string, byte[]>(StringComparer.Ordinal);
                int done = 0;
                void Take(StoragePath from, ChecksumList list, string whose)
                {
                    foreach ((string path, string sum) in list.Sums.Where(s => s.Key != ChecksumList.CarriedFileName))
                    {
                        (string copied, contents[path], _) = CrateCopy.Copy(from.At(path), work.At(path), cancel);
                        if (copied != sum)
                        {
                            throw new CrateRefusedException($"{path} of the {whose} is not what was sealed. Get it again.");
                        }

                        whole.Add(path, sum);
                        progress?.Report(new CrateProgress("copying", ++done, sums.Sums.Count + carried.Sums.Count, 0, 0));
                    }
                }

                Take(older, carried, "older crate");
                Take(delta, sums, "delta");
                CrateText.Write(work.At(ChecksumList.FileName), whole.Write());
                return (whole, contents);
            },
            progress,
            cancel
        );
    }
}
