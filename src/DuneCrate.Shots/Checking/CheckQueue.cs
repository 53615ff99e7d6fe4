using DuneCrate.Checking;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Reports;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Time;
using DuneCrate.Planning.Model;
using DuneCrate.Shots.Jobs;
using DuneCrate.Shots.Live;
using DuneCrate.Shots.Notifications;
using DuneCrate.Shots.Pictures;
using DuneCrate.Shots.Views;
using DuneCrate.Store;
using DuneCrate.Store.Rows;

namespace DuneCrate.Shots.Checking;

/// <summary>
/// Runs checks one after the other, since each uses all cores, or a few at once where other machines read. A check
/// that was waiting or running when the application ended is taken up
/// again at the next start, and reads only what it had not read.
/// </summary>
public sealed class CheckQueue(
    ShowStore store,
    CheckStore checkStore,
    ShotCheck work,
    ReportIntakes intakes,
    ShotViews views,
    ShotEvents events,
    RunningChecks live,
    ProxyMaker proxies,
    OutboxWriter letters,
    ServeOptions options,
    TimeProvider clock,
    ILogger<CheckQueue> log
) : JobQueue(live, log, options.Engine is null ? 1 : ServeOptions.ChecksWithEngine)
{
    private readonly ILogger _log = log;

    /// <summary>Asks for a check of a shot.</summary>
    /// <returns>Key of the check.</returns>
    public Task<int> AskAsync(int shotId, bool pixels, bool byContent = false) =>
        AskAsync(
            $"{shotId} {pixels} {byContent}",
            async () => (await checkStore.AddCheckAsync(shotId, pixels, byContent)).Id,
            $"check shot {shotId}",
            RunAsync
        );

    /// <inheritdoc/>
    protected override async Task TakeUpAsync(CancellationToken ending)
    {
        List<CheckRow> left = await checkStore.UnfinishedChecksAsync(ending);
        foreach (IGrouping<int, CheckRow> shot in left.GroupBy(c => c.ShotId))
        {
            foreach (CheckRow older in shot.SkipLast(1))
            {
                await checkStore.SetCheckAsync(older.Id, JobState.Stopped, cancel: ending);
            }

            CheckRow newest = shot.Last();
            Put(
                newest.Id,
                $"{newest.ShotId} {newest.Pixels} {newest.ByContent}",
                $"check shot {newest.ShotId}",
                (progress, stop) => RunAsync(newest.Id, progress, stop)
            );
        }
    }

    /// <inheritdoc/>
    protected override Task FailAsync(int id, CancellationToken cancel) =>
        checkStore.FailCheckAsync(id, Failures.Unforeseen("The check could not be done"), cancel);

    private async Task RunAsync(int id, JobProgress progress, CancellationToken stop)
    {
        CheckReport? report = null;
        (JobState state, string? problem, int? revision) = (JobState.Done, null, null);
        int shotId = 0;
        try
        {
            stop.ThrowIfCancellationRequested();
            (CheckRow check, ShotRow shot) = await checkStore.CheckWithShotAsync(id, stop);
            (shotId, revision) = (shot.Id, shot.Revision);
            Plan plan = views.PlanOf(shot);
            progress.Changed = () => events.Tell(shot.Id, "progress", new { check = id });
            progress.Doing = "listing the folder";
            await checkStore.SetCheckAsync(id, JobState.Running, shot.Revision, cancel: stop);
            FactsDepth depth = check.Pixels ? FactsDepth.Pixels : FactsDepth.Header;
            CheckResult found = await work.RunAsync(shot, plan, depth, check.ByContent, progress, stop);
            intakes.Keep(id, found.Context);
            report = found.Report;
        }
        catch (OperationCanceledException) when (stop.IsCancellationRequested)
        {
            if (!progress.Stopped.IsCancellationRequested)
            {
                // The application ends: the check is taken up again at the next start.
                return;
            }

            state = JobState.Stopped;
        }
        catch (Exception e)
        {
            (state, problem) = (JobState.Failed, Failures.Words("The check could not be done", e));
            if (!Failures.IsForeseen(e))
            {
                _log.LogError(e, "Check {Check} failed", id);
            }
        }

        await NoteAsync(
            $"note the end of check {id}",
            async cancel =>
            {
                await checkStore.SetCheckAsync(id, state, revision, report, problem, cancel);
                if (report is not null)
                {
                    await store.NoteAsync(shotId, $"checked: {Counted(report.Summary)}", cancel);
                }

                events.Tell(shotId, "check", new { ended = id });
                Measures.Checked(Words.Choice(state), report?.Summary.Files ?? 0);
                if (report is not null)
                {
                    proxies.WantBeauty(shotId);
                    await TellAsync(shotId, report.Summary, cancel);
                }
            }
        );
    }

    private async Task TellAsync(int shotId, CheckSummary summary, CancellationToken cancel)
    {
        if (await store.ShotAsync(shotId, cancel) is { } shot)
        {
            await letters.TellAsync(
                EventDocument.About(shot, NotificationKinds.CheckEnded, clock.UtcNow, $"checked, {Counted(summary)}") with
                {
                    Counts = new Dictionary<string, long>
                    {
                        ["blockers"] = summary.Blockers,
                        ["warnings"] = summary.Warnings,
                        ["files"] = summary.Files,
                    },
                },
                "check"
            );
        }
    }

    private static string Counted(CheckSummary s) =>
        s.Blockers > 0 ? Words.Count(s.Blockers, "blocker")
        : s.Warnings > 0 ? $"{s.Warnings} to look at"
        : s.Files == 0 ? "nothing found"
        : "nothing found wrong";
}
