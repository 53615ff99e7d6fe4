using System.Collections.Immutable;
using System.Diagnostics;
using System.Security.Cryptography;
using DuneCrate.Checking;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Crates;
using DuneCrate.Crates.Deltas;
using DuneCrate.Crates.Describing;
using DuneCrate.Crates.Events;
using DuneCrate.Crates.Recipes;
using DuneCrate.Crates.Signing;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.History;
using DuneCrate.Foundation.Storage;
using DuneCrate.Foundation.Time;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Pictures.Notes;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Scene.Helpers;
using DuneCrate.Shots.Checking;
using DuneCrate.Shots.Jobs;
using DuneCrate.Shots.Live;
using DuneCrate.Shots.Notifications;
using DuneCrate.Shots.Roots;
using DuneCrate.Shots.Views;
using DuneCrate.Store;
using DuneCrate.Store.Keeping;
using DuneCrate.Store.Rows;

namespace DuneCrate.Shots.Crating;

/// <summary>
/// Seals and reads back crates, one after the other. Every seal checks every pixel first; unchanged files are known already.
/// </summary>
public sealed partial class CrateQueue(
    ShowStore store,
    ShotCheck check,
    ReportIntakes intakes,
    StorageRoots roots,
    ReadLimits limits,
    ShotViews views,
    RunningCrates live,
    ShotEvents events,
    InstallationKeys keys,
    HistoryStore history,
    OutboxWriter letters,
    LowPriorityScheduler lowPriority,
    PlanStore plans,
    SealedFolders folders,
    DataFolder data,
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
            async () => (await store.AddCrateAsync(shotId, layout, by, receiver?.Name, wanted, ontoId)).Id,
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

        await store.ChangeCrateAsync(crate.Id, c => (c.State, c.Ended) = (JobState.Queued, null));
        GoOn(crate);
        return true;
    }

    /// <summary>Gives a crate up that was put off, and takes away what had been written of it.</summary>
    public async Task GiveUpAsync(CrateRow crate, ShotRow shot)
    {
        await Task.Run(() => CrateBuilder.Sweep(roots.CratesOf(shot.Show.Code, shot.Code), crate.SealId));
        await store.ChangeCrateAsync(
            crate.Id,
            c => (c.State, c.Ended, c.Problem) = (JobState.Stopped, clock.UtcNow, "Given up before it was sealed. Nothing is left of it.")
        );
    }

    /// <inheritdoc/>
    protected override async Task TakeUpAsync(CancellationToken ending)
    {
        foreach ((string show, string shot) in await store.ShotsCratedLastAsync(MostLeft, ending))
        {
            // What a kill left of a history that was being written.
            await Background.DoAsync(_log, $"tidy the crates of {shot}", () => Task.Run(() => Tidy(roots.CratesOf(show, shot))), ending);
        }

        foreach ((CrateRow crate, ShotRow shot) in await store.UnfinishedCratesAsync(ending))
        {
            await Background.DoAsync(_log, $"take up crate {crate.Id}", () => TakeUpAsync(crate, shot, ending), ending);
        }
    }

    private static void Tidy(StoragePath crates)
    {
        if (crates.IsThere)
        {
            CrateHistory.Sweep(crates);
        }
    }

    /// <summary>A crate that was published before its end was noted is known again; a killed sealing is gone on with.</summary>
    private async Task TakeUpAsync(CrateRow crate, ShotRow shot, CancellationToken ending)
    {
        StoragePath place = roots.CratesOf(shot.Show.Code, shot.Code);
        if (crate.SealId != Guid.Empty && await Task.Run(() => CrateBuilder.Find(place, shot.Code, crate.SealId), ending) is { } whole)
        {
            await store.ChangeCrateAsync(crate.Id, c => Note(c, whole), ending);
            Note(crate, whole);
            await SealedAsync(shot, crate, ending);
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
        store.ChangeCrateAsync(
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
            (CrateRow row, ShotRow of) = await store.CrateWithShotAsync(id, stop);
            (asked, whose) = (row, of);
            progress.Changed = () => events.Tell(of.Id, "progress", new { crate = id });
            await store.ChangeCrateAsync(id, c => c.State = JobState.Running, stop);
            SealedCrate crate = await SealAsync(row, of, progress, stop);
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
                () => Task.Run(() => CrateBuilder.Sweep(roots.CratesOf(whose!.Show.Code, whose.Code), asked.SealId)),
                CancellationToken.None
            );
        }

        await NoteAsync(
            $"note the end of crate {id}",
            async cancel =>
            {
                await store.ChangeCrateAsync(id, end, cancel);
                if (!isPaused)
                {
                    Measures.Sealed(done is not null);
                }

                if (shot is not null && done is not null)
                {
                    await SealedAsync(shot, done, cancel);
                }
            }
        );
    }

    private async Task<SealedCrate> SealAsync(CrateRow row, ShotRow shot, JobProgress progress, CancellationToken stop)
    {
        progress.Doing = "checking every pixel";
        Plan plan = views.PlanOf(shot);
        if (await PreflightGateAsync(shot, plan.Show) is { } open)
        {
            throw new CrateRefusedException(open);
        }

        Waiver[] waivers = [.. (await store.WaiversAsync(shot.Id, stop)).Select(ShowStore.ToWaiver)];
        CheckResult found;
        try
        {
            found = await check.RunAsync(shot, plan, FactsDepth.Pixels, byContent: false, progress, stop);
        }
        catch (DirectoryNotFoundException e)
        {
            throw new CrateRefusedException(e.Message);
        }

        if (await store.KeepCheckAsync(shot.Id, shot.Revision, found.Report, stop) is { } id)
        {
            intakes.Keep(id, found.Context);
            events.Tell(shot.Id, "check", new { ended = id });
        }

        if (progress.IsPausing)
        {
            throw new SealingPausedException();
        }

        ImmutableArray<PictureNote> notes = [.. (await store.PictureNotesAsync(shot.Id, stop)).Select(n => n.Note)];
        List<KeptStack> stacks = await store.StacksAsync(shot.Id, stop);
        ShotHelpers? helpers = ShotHelpers.Of(await store.HelpersAsync(shot.Id, stop), HelperShots.Of(plan));
        CrateRow? older = row.OntoId is { } onto ? await store.CrateAsync(shot.Id, onto, stop) : null;
        using ECDsa key = keys.Current();
        return await lowPriority.DoAsync(() =>
            CrateBuilder.Seal(
                CrateContents.From(found.Context, row.Layout, row.Recipe is { } recipe ? CrateRecipe.Read(recipe) : null) with
                {
                    Notes = notes,
                    Stacks = [.. stacks.Select(s => (s.Name, s.Recipe))],
                    Helpers = helpers?.Handed ?? HelperSet.Empty,
                },
                found.Report.With(waivers),
                roots.CratesOf(shot.Show.Code, shot.Code),
                row.SealId,
                new Reporter(progress),
                stop,
                new CrateSigner(row.By, key),
                limits,
                older is null ? null : OntoBase.Read(FolderOf(older), shot.Code),
                clock
            )
        );
    }

    private StoragePath FolderOf(CrateRow crate) =>
        crate.Path is { } path && roots.CrateAt(path) is { } folder
            ? folder
            : throw new CrateRefusedException($"{crate.Name} lies in no folder of this application any more; seal a whole crate.");

    /// <summary>Why the show seals nothing yet: it waits for its preflight list; or null.</summary>
    public async Task<string?> PreflightGateAsync(ShotRow shot, ShowPlan show) =>
        show.PreflightSeals && (await plans.UnconfirmedAsync(shot.Id, show)).Count is > 0 and var open
            ? $"{Words.Count(open, "line")} of the preflight list {Words.Are(open)} not confirmed, and this show seals nothing before. "
                + "Open preflight and confirm them."
            : null;

    /// <summary>Writes into the histories of older crates for the same receiver that a newer one stands in their place.</summary>
    private async Task TellSupersededAsync(CrateRow crate, CancellationToken cancel)
    {
        foreach (CrateRow older in (await store.CratesAsync(crate.ShotId, cancel)).Where(c => c.IsSupersededBy(crate)).Take(1))
        {
            await folders.TellAsync(older, crate.By, CrateEventKinds.Superseded, $"{crate.Name} stands in its place");
        }
    }

    /// <summary>Writes down that a crate was sealed, what it answers and what it stands in place of, and tells of it.</summary>
    private async Task SealedAsync(ShotRow shot, CrateRow row, CancellationToken cancel)
    {
        string name = row.Name!;
        await store.NoteAsync(shot.Id, $"{name} sealed by {row.By}", cancel);
        await store.AnswerRemarksAsync(row, cancel);
        await TellSupersededAsync(row, cancel);
        await history.AddAsync(
            new AuditEvent(row.By, HistoryKinds.Sealed, name, shot.Show.Code, shot.Code, null, $"{Words.Count(row.Files, "file")}, sealed")
        );
        await letters.TellAsync(
            EventDocument.About(shot, NotificationKinds.CrateSealed, clock.UtcNow, $"{name} is sealed") with
            {
                By = row.By,
                Counts = new Dictionary<string, long> { ["files"] = row.Files, ["bytes"] = row.Bytes },
            },
            "crate"
        );
    }

    /// <summary>Hands sealing progress on.</summary>
    private sealed class Reporter(JobProgress progress) : IProgress<CrateProgress>
    {
        private readonly Stopwatch _since = Stopwatch.StartNew();

        public void Report(CrateProgress value)
        {
            if (progress.IsPausing)
            {
                throw new SealingPausedException();
            }

            double seconds = _since.Elapsed.TotalSeconds;
            progress.Doing =
                value.Bytes > 0 && seconds > 1 ? $"{value.Doing}, {ByteSize.Text((long)(value.Bytes / seconds))} a second" : value.Doing;
            progress.Set(value.Doing == "copying" ? value.Files : value.OfFiles + value.Files, value.OfFiles * 2L);
        }
    }
}
