using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Text.Json;
using DuneCrate.Checking;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Remedies;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Storage;
using DuneCrate.Foundation.Time;
using DuneCrate.Planning.Model;
using DuneCrate.Shots.Jobs;
using DuneCrate.Shots.Roots;
using DuneCrate.Store;
using DuneCrate.Store.Keeping;
using DuneCrate.Store.Rows;

namespace DuneCrate.Shots.Checking;

/// <summary>
/// Renames a shot's files and remembers how, so that it can be taken back also after a restart. The record is on the disk before the first
/// file moves, and stays until every file has
/// its old name again. After either the folder is checked.
/// </summary>
public sealed class FileRenamer(
    DataFolder data,
    StorageRoots roots,
    ShowStore store,
    CheckQueue checks,
    CheckRequests requests,
    TimeProvider clock
)
{
    private readonly ConcurrentDictionary<int, SemaphoreSlim> _turns = new();

    /// <summary>The newest step of a shot that can be taken back, or null.</summary>
    public RenameStep? Last(int shotId)
    {
        try
        {
            return JsonSerializer.Deserialize<RenameStep>(File.ReadAllText(PathOf(shotId)), RenameJson.Ahead);
        }
        catch (Exception e) when (e is IOException or JsonException)
        {
            // None, or one that an earlier version did not finish writing.
            return null;
        }
    }

    /// <summary>Renames what can be; returns what went wrong, or null.</summary>
    public async Task<string?> ApplyAsync(ShotRow shot, Plan plan, StoragePath folder, CancellationToken cancel)
    {
        SemaphoreSlim turn = _turns.GetOrAdd(shot.Id, _ => new SemaphoreSlim(1, 1));
        await turn.WaitAsync(cancel);
        int count;
        try
        {
            IntakeResult intake = await Task.Run(() => FolderCheck.TakeIn(requests.Of(folder, plan, FactsDepth.Header), cancel), cancel);
            ImmutableArray<Rename> renames = Renames.From(new CheckContext(plan, intake));
            count = renames.Length;
            if (count == 0)
            {
                return "There is nothing to rename any more.";
            }

            // From here on nothing stops half way because a page was closed.
            if (await Task.Run(() => Apply(shot.Id, folder, renames), CancellationToken.None) is { } problem)
            {
                return problem;
            }
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return Failures.Words("Nothing was renamed", e);
        }
        finally
        {
            turn.Release();
        }

        await store.NoteAsync(shot.Id, $"{Words.Count(count, "file")} renamed", CancellationToken.None);
        await checks.AskAsync(shot.Id, pixels: true);
        return null;
    }

    /// <summary>Takes the newest step back; returns what went wrong, or null.</summary>
    public async Task<string?> BackAsync(ShotRow shot)
    {
        SemaphoreSlim turn = _turns.GetOrAdd(shot.Id, _ => new SemaphoreSlim(1, 1));
        await turn.WaitAsync();
        string? problem;
        try
        {
            if (Last(shot.Id) is not { } step)
            {
                return "There is nothing to take back.";
            }

            if (roots.Find(step.Folder) is not { } folder)
            {
                return $"{step.Folder} lies in no storage root any more; start the application with that root, then try again.";
            }

            problem = await Task.Run(() => Back(shot.Id, folder, step));
        }
        finally
        {
            turn.Release();
        }

        await store.NoteAsync(shot.Id, problem is null ? "files have their old names again" : "some files have their old names again");
        await checks.AskAsync(shot.Id, pixels: true);
        return problem;
    }

    private string? Apply(int shotId, StoragePath folder, ImmutableArray<Rename> renames)
    {
        // A step whose end is not known may have moved files: they stay on record before those of this one.
        ImmutableArray<Rename> before = Last(shotId) is { IsOpen: true } open && open.Folder == folder.FullPath ? open.Renames : [];
        var step = new RenameStep(folder.FullPath, [.. before, .. renames], clock.UtcNow, IsOpen: true);
        Write(shotId, step);
        RenameOutcome outcome = Renames.Apply(folder, renames);
        if (outcome.Problem is null)
        {
            try
            {
                Write(shotId, step with { IsOpen = false });
            }
            catch (Exception e) when (e is IOException or UnauthorizedAccessException)
            {
                // The record says more than enough: every file can still be given its old name.
            }

            return null;
        }

        Note(shotId, step, [.. before, .. outcome.Left]);
        return outcome.Problem;
    }

    private string? Back(int shotId, StoragePath folder, RenameStep step)
    {
        RenameOutcome outcome = Renames.Back(folder, step.Renames);
        Note(shotId, step, outcome.Left);
        return outcome.Problem;
    }

    /// <summary>Keeps on record what still has its new name; without any the record goes.</summary>
    private void Note(int shotId, RenameStep step, ImmutableArray<Rename> left)
    {
        if (left.IsEmpty)
        {
            File.Delete(PathOf(shotId));
        }
        else
        {
            Write(shotId, step with { Renames = left, IsOpen = true });
        }
    }

    /// <summary>Writes the record whole or not at all, and makes it last.</summary>
    private void Write(int shotId, RenameStep step)
    {
        string path = PathOf(shotId),
            folder = Path.GetDirectoryName(path)!;
        Directory.CreateDirectory(folder);
        StorageRoot.At(folder).Top.At(Path.GetFileName(path)).Replace(file => JsonSerializer.Serialize(file, step, RenameJson.Ahead));
    }

    private string PathOf(int shotId) => Path.Combine(data.At("renames"), $"{shotId}.json");
}
