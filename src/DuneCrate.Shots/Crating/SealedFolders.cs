using System.Collections.Immutable;
using DuneCrate.Crates;
using DuneCrate.Crates.Events;
using DuneCrate.Foundation.Storage;
using DuneCrate.Foundation.Time;
using DuneCrate.Shots.Roots;
using DuneCrate.Store.Rows;

namespace DuneCrate.Shots.Crating;

/// <summary>The folders of sealed crates: where they are, what they hold, what happened to them.</summary>
public sealed class SealedFolders(StorageRoots roots, TimeProvider clock, ILogger<SealedFolders> log)
{
    /// <summary>What a crate holds; null when it cannot be read.</summary>
    public async Task<CrateManifest?> ManifestAsync(CrateRow row, CancellationToken cancel) =>
        FolderOf(row) is { } crate ? await Task.Run(() => crate.IsFolder ? CrateVerifier.ManifestOf(crate) : null, cancel) : null;

    /// <summary>What happened to a crate, oldest first, and what is wrong with that history; nothing of one that is not there.</summary>
    public async Task<(ImmutableArray<CrateEvent> Events, string? Problem)> HistoryAsync(CrateRow row, CancellationToken cancel) =>
        FolderOf(row) is { } crate ? await Task.Run(() => CrateHistory.Of(crate), cancel) : ([], null);

    /// <summary>Writes into a crate's history what was done with it; a disk that refuses holds nothing up.</summary>
    public async Task TellAsync(CrateRow row, string by, string did, string what)
    {
        if (FolderOf(row) is not { } crate)
        {
            return;
        }

        try
        {
            await Task.Run(() => CrateHistory.Add(crate, clock.UtcNow, by, did, what));
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            log.LogError(e, "The history of {Crate} could not be written", row.Name);
        }
    }

    /// <summary>The folder of a sealed crate; null when it is none or lies nowhere here.</summary>
    public StoragePath? FolderOf(CrateRow row) => row is { State: JobState.Done, Gone: null, Path: { } path } ? roots.CrateAt(path) : null;

    /// <summary>Deletes the files of a crate; its name goes first, so that nobody meets half a crate.</summary>
    /// <exception cref="IOException">The disk refuses.</exception>
    public async Task DeleteAsync(CrateRow row, CancellationToken cancel)
    {
        if (FolderOf(row) is not { } folder)
        {
            return;
        }

        StoragePath going = folder.Parent.At($".{folder.Name}.going");
        await Task.Run(
            () =>
            {
                going.DeleteFolder();
                folder.MoveTo(going);
                going.DeleteFolder();
            },
            cancel
        );
    }
}
