using System.Security.Cryptography;
using DuneCrate.Crates;
using DuneCrate.Foundation.Storage;
using DuneCrate.Shots.Jobs;
using DuneCrate.Store.Keeping;
using DuneCrate.Store.Rows;

namespace DuneCrate.Shots.Crating;

/// <summary>Reads sealed crates back.</summary>
public sealed class CrateReading(SealedFolders folders, InstallationKeys keys, LowPriorityScheduler lowPriority, ILogger<CrateReading> log)
{
    /// <summary>What is wrong with a crate, a line each; empty when it is whole.</summary>
    /// <exception cref="OperationCanceledException">It was stopped; what was known of the crate stays.</exception>
    public async Task<string> ProblemsAsync(CrateRow crate, CancellationToken stop)
    {
        try
        {
            CrateProof? proof = folders.FolderOf(crate) is { } folder ? await lowPriority.DoAsync(() => Proof(crate, folder, stop)) : null;
            return proof is null ? $"{crate.Path} lies in no folder of this application any more" : string.Join('\n', proof.Problems);
        }
        catch (DirectoryNotFoundException)
        {
            return "its folder is gone";
        }
        catch (FormatException e)
        {
            return e.Message.TrimEnd('.');
        }
        catch (Exception e) when (e is not OperationCanceledException || !stop.IsCancellationRequested)
        {
            log.LogError(e, "Crate {Crate} could not be read back", crate.Id);
            return Failures.Words("it could not be read back", e);
        }
    }

    /// <summary>Crates of earlier versions are not signed; whatever is signed must be signed by this installation.</summary>
    private CrateProof Proof(CrateRow crate, StoragePath folder, CancellationToken stop)
    {
        IReadOnlyList<ECDsa> known = CrateVerifier.ManifestOf(folder)?.SignedWith is null ? [] : keys.Known();
        try
        {
            return CrateVerifier.Verify(folder, crate.SumsDigest, stop, known);
        }
        finally
        {
            foreach (ECDsa key in known)
            {
                key.Dispose();
            }
        }
    }
}
