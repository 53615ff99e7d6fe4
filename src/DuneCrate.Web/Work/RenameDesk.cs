using System.Collections.Immutable;
using System.Text.Json;
using DuneCrate.Core;
using DuneCrate.Core.Checks;
using DuneCrate.Core.Intake;
using DuneCrate.Core.Planning;
using DuneCrate.Store;
using DuneCrate.Store.Rows;

namespace DuneCrate.Web.Work;

/// <summary>Files that were renamed at once.</summary>
/// <param name="Folder">The folder.</param>
/// <param name="Renames">From what to what.</param>
/// <param name="At">When, UTC.</param>
public sealed record RenameStep(string Folder, ImmutableArray<Rename> Renames, DateTime At);

/// <summary>Renames a shot's files and remembers how, so that it can be taken back also after a restart. After either the folder is checked.</summary>
public sealed class RenameDesk(ServeOptions options, ShowStore store, CheckWork checks, IFactsCache facts, ReadLimits limits)
{
    private readonly Lock _lock = new();

    /// <summary>The newest step of a shot that can be taken back, or null.</summary>
    public RenameStep? Last(int shotId) => File.Exists(PathOf(shotId)) ? JsonSerializer.Deserialize<RenameStep>(File.ReadAllText(PathOf(shotId)), DocumentJson.Options) : null;

    /// <summary>Renames what can be; returns what went wrong, or null.</summary>
    public async Task<string?> ApplyAsync(ShotRow shot, Plan plan, string folder, CancellationToken cancel)
    {
        int count;
        try
        {
            Intake intake = await Task.Run(() => new IntakeRun(facts, limits).Run(folder, plan, FactsDepth.Header, null, cancel), cancel);
            ImmutableArray<Rename> renames = Renames.Of(new CheckContext(plan, intake, DateTime.UtcNow));
            count = renames.Length;
            if (count == 0)
            {
                return "There is nothing to rename any more.";
            }

            lock (_lock)
            {
                // Written first: should the machine stop in between, the step can still be taken back by hand.
                Write(shot.Id, new RenameStep(folder, renames, DateTime.UtcNow));
                Renames.Apply(folder, renames);
            }
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            File.Delete(PathOf(shot.Id));
            return e.Message;
        }

        await store.NoteAsync(shot.Id, $"{count} files renamed");
        await checks.AskAsync(shot.Id, pixels: true);
        return null;
    }

    /// <summary>Takes the newest step back; returns what went wrong, or null.</summary>
    public async Task<string?> BackAsync(ShotRow shot)
    {
        if (Last(shot.Id) is not { } step)
        {
            return "There is nothing to take back.";
        }

        try
        {
            lock (_lock)
            {
                Renames.Apply(step.Folder, Renames.Back(step.Renames));
                File.Delete(PathOf(shot.Id));
            }
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return e.Message;
        }

        await store.NoteAsync(shot.Id, $"{step.Renames.Length} files have their old names again");
        await checks.AskAsync(shot.Id, pixels: true);
        return null;
    }

    private void Write(int shotId, RenameStep step)
    {
        Directory.CreateDirectory(Path.GetDirectoryName(PathOf(shotId))!);
        File.WriteAllText(PathOf(shotId), JsonSerializer.Serialize(step, DocumentJson.Options));
    }

    private string PathOf(int shotId) => Path.Combine(options.DataFolder, "renames", $"{shotId}.json");
}
