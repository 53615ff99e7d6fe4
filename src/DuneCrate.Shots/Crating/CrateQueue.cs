using DuneCrate.Crates;
using DuneCrate.Crates.Recipes;
using DuneCrate.Foundation.Time;
using DuneCrate.Shots.Jobs;
using DuneCrate.Shots.Live;
using DuneCrate.StandIns.DropBox;
using DuneCrate.Store;
using DuneCrate.Store.Rows;

namespace DuneCrate.Shots.Crating;

/// <summary>
/// Seals and reads back crates, one after the other. Every seal checks every pixel first; unchanged files are known already.
/// </summary>
public sealed class CrateQueue(
    CrateStore crateStore,
    CrateSealing sealing,
    CrateReading reading,
    CrateSending sending,
    CrateNews news,
    SealedFolders folders,
    ShotEvents events,
    RunningCrates live,
    TimeProvider clock,
    ILogger<CrateQueue> log
) : JobQueue(live, log)
{
    /// <summary>Shots whose crates are tidied at a start: those made last.</summary>
    private const int MostLeft = 20;

    private readonly ILogger _log = log;

    /// <summary>Asks for a crate to be sealed.</summary>
    /// <param name="shotId">The shot.</param>
    /// <param name="layout">Layout.</param>
    /// <param name="by">Who seals it.</param>
    /// <param name="receiver">Who gets it; null for nobody in particular.</param>
    /// <param name="recipe">What becomes of the files; null for what the receiver wants.</param>
    /// <param name="ontoId">The crate that it is a delta onto; null for a whole one.</param>
    /// <returns>Key of the crate.</returns>
    public Task<int> SealAsync(
        int shotId,
        string layout,
        string by,
        ReceiverRow? receiver = null,
        CrateRecipe? recipe = null,
        int? ontoId = null
    )
    {
        string? wanted = recipe is null ? receiver?.Recipe : recipe.Write();
        return AskAsync(
            $"seal {shotId} {layout} {receiver?.Id} {ontoId} {wanted}",
            async () => (await crateStore.AddCrateAsync(shotId, layout, by, receiver?.Name, wanted, ontoId)).Id,
            $"seal a crate of shot {shotId}",
            SealGuardedAsync
        );
    }

    /// <summary>Goes on with a crate that was put off.</summary>
    /// <returns>Whether it was.</returns>
    public async Task<bool> ResumeAsync(CrateRow crate)
    {
        if (crate.State != JobState.Paused)
        {
            return false;
        }

        await crateStore.ChangeCrateAsync(crate.Id, c => (c.State, c.Ended) = (JobState.Queued, null));
        GoOn(crate);
        return true;
    }

    /// <summary>Gives a crate up that was put off, and takes away what had been written of it.</summary>
    public async Task GiveUpAsync(CrateRow crate, ShotRow shot)
    {
        await sealing.SweepAsync(crate, shot);
        await crateStore.ChangeCrateAsync(
            crate.Id,
            c => (c.State, c.Ended, c.Problem) = (JobState.Stopped, clock.UtcNow, "Given up before it was sealed. Nothing is left of it.")
        );
    }

    /// <inheritdoc/>
    protected override async Task TakeUpAsync(CancellationToken ending)
    {
        foreach ((string show, string shot) in await crateStore.ShotsCratedLastAsync(MostLeft, ending))
        {
            // What a kill left of a history that was being written.
            await Background.DoAsync(_log, $"tidy the crates of {shot}", () => sealing.TidyAsync(show, shot), ending);
        }

        foreach ((CrateRow crate, ShotRow shot) in await crateStore.UnfinishedCratesAsync(ending))
        {
            await Background.DoAsync(_log, $"take up crate {crate.Id}", () => TakeUpAsync(crate, shot, ending), ending);
        }
    }

    /// <summary>A crate that was published before its end was noted is known again; a killed sealing is gone on with.</summary>
    private async Task TakeUpAsync(CrateRow crate, ShotRow shot, CancellationToken ending)
    {
        if (crate.SealId != Guid.Empty && await sealing.FindAsync(crate, shot, ending) is { } whole)
        {
            Note(crate, whole);
            await news.SealedAsync(shot, crate, c => Note(c, whole), ending);
            return;
        }

        GoOn(crate);
    }

    /// <summary>It is begun again, and goes on with what stands in its hidden folder.</summary>
    private void GoOn(CrateRow crate) =>
        Put(
            crate.Id,
            $"seal {crate.ShotId} {crate.Layout} {crate.Id}",
            $"go on sealing crate {crate.Id}",
            (progress, stop) => SealGuardedAsync(crate.Id, progress, stop)
        );

    private void Note(CrateRow row, SealedCrate crate)
    {
        (row.State, row.Ended, row.Name, row.Path, row.Verified, row.Problem) = (
            JobState.Done,
            clock.UtcNow,
            crate.Name,
            crate.Folder.FullPath,
            clock.UtcNow,
            null
        );
        (row.Files, row.Bytes, row.SumsDigest) = (crate.Files, crate.Bytes, crate.SumsDigest);
    }

    /// <inheritdoc/>
    protected override Task FailAsync(int id, CancellationToken cancel) =>
        crateStore.ChangeCrateAsync(
            id,
            c =>
            {
                if (c.State is JobState.Queued or JobState.Running)
                {
                    (c.State, c.Ended, c.Problem) = (JobState.Failed, clock.UtcNow, Failures.Unforeseen("The crate could not be sealed"));
                }
            },
            cancel
        );

    private async Task SealGuardedAsync(int id, JobProgress progress, CancellationToken stop)
    {
        Action<CrateRow> end;
        (ShotRow? shot, CrateRow? done) = (null, null);
        (CrateRow? asked, ShotRow? whose) = (null, null);
        bool isPaused = false;
        try
        {
            stop.ThrowIfCancellationRequested();
            (CrateRow row, ShotRow of) = await crateStore.CrateWithShotAsync(id, stop);
            (asked, whose) = (row, of);
            progress.Changed = () => events.Tell(of.Id, "progress", new { crate = id });
            await crateStore.ChangeCrateAsync(id, c => c.State = JobState.Running, stop);
            SealedCrate crate = await sealing.SealAsync(row, of, progress, stop);
            end = c => Note(c, crate);
            Note(row, crate);
            (shot, done) = (of, row);
        }
        catch (SealingPausedException)
        {
            end = c => (c.State, c.Ended, c.Problem) = (JobState.Paused, clock.UtcNow, null);
            isPaused = true;
        }
        catch (OperationCanceledException) when (stop.IsCancellationRequested)
        {
            end = c =>
                (c.State, c.Ended, c.Problem) = (JobState.Stopped, clock.UtcNow, "Stopped before it was sealed. Nothing was left behind.");
        }
        catch (Exception e)
        {
            string problem = Failures.Words("The crate could not be sealed", e);
            if (!Failures.IsForeseen(e))
            {
                _log.LogError(e, "Crate {Crate} failed", id);
            }

            end = c => (c.State, c.Ended, c.Problem) = (JobState.Failed, clock.UtcNow, problem);
        }

        if (done is null && asked is not null && !isPaused)
        {
            // What an earlier, killed attempt left is of no more use when this one could not go on with it.
            await Background.DoAsync(
                _log,
                $"take away what is left of crate {id}",
                () => sealing.SweepAsync(asked, whose!),
                CancellationToken.None
            );
        }

        await NoteAsync(
            $"note the end of crate {id}",
            async cancel =>
            {
                if (shot is not null && done is not null)
                {
                    await news.SealedAsync(shot, done, end, cancel);
                }
                else
                {
                    await crateStore.ChangeCrateAsync(id, end, cancel);
                }

                if (!isPaused)
                {
                    Measures.Sealed(done is not null);
                }
            }
        );
    }

    /// <summary>Asks for a crate to be read back.</summary>
    public Task VerifyAsync(CrateRow crate) =>
        AskAsync(
            $"verify {crate.Id}",
            () => Task.FromResult(crate.Id),
            $"read back crate {crate.Id}",
            (_, progress, stop) => VerifyAsync(crate, progress, stop)
        );

    /// <summary>Asks for a crate to be sent to the drop box of its receiver, which a stand-in is.</summary>
    /// <param name="crate">The crate.</param>
    /// <param name="fault">What goes wrong there.</param>
    /// <param name="by">Who sends it.</param>
    public Task SendAsync(CrateRow crate, DropBoxFault fault, string by) =>
        AskAsync(
            $"send {crate.Id}",
            () => Task.FromResult(crate.Id),
            $"send crate {crate.Id}",
            (_, progress, stop) => SendAsync(crate, fault, by, progress, stop)
        );

    /// <summary>Deletes the files of a crate that nobody needs any more; its row and the history beside it stay.</summary>
    /// <exception cref="IOException">The disk refuses.</exception>
    public async Task ForgetAsync(CrateRow crate, CancellationToken cancel)
    {
        await folders.DeleteAsync(crate, cancel);

        await crateStore.ChangeCrateAsync(crate.Id, c => c.Gone = clock.UtcNow, cancel);
    }

    private async Task SendAsync(CrateRow crate, DropBoxFault fault, string by, JobProgress progress, CancellationToken stop)
    {
        progress.Changed = () => events.Tell(crate.ShotId, "progress", new { crate = crate.Id });
        progress.Doing = "sending";
        try
        {
            (string did, string what) = await sending.SendAsync(crate, fault, by, progress, stop);
            await folders.TellAsync(crate, by, did, what);
            await NoteAsync($"note that crate {crate.Id} was sent", cancel => news.SentAsync(crate, by, did, what, cancel));
        }
        catch (OperationCanceledException) when (stop.IsCancellationRequested)
        {
            // Nothing is known of what has arrived.
        }
    }

    private async Task VerifyAsync(CrateRow crate, JobProgress progress, CancellationToken stop)
    {
        progress.Changed = () => events.Tell(crate.ShotId, "progress", new { crate = crate.Id });
        progress.Doing = "reading every file back";
        try
        {
            string problems = await reading.ProblemsAsync(crate, stop);
            await NoteAsync($"note the end of reading crate {crate.Id} back", cancel => news.VerifiedAsync(crate, problems, cancel));
        }
        catch (OperationCanceledException) when (stop.IsCancellationRequested)
        {
            // What was known of the crate stays.
        }
    }
}
