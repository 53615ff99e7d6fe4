using System.Collections.Concurrent;
using System.Threading.Channels;
using DuneCrate.Core.Checks;
using DuneCrate.Core.Intake;
using DuneCrate.Core.Planning;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Roots;
using DuneCrate.Web.Shots;

namespace DuneCrate.Web.Work;

/// <summary>
/// Runs checks one after the other; each uses all cores. A check that was waiting or running when the application ended is taken up
/// again at the next start, and reads only what it had not read.
/// </summary>
public sealed class CheckWork(ShowStore store, FactsStore facts, StorageRoots roots, ReadLimits limits, ShotDesk desk, ILogger<CheckWork> log) : BackgroundService
{
    private readonly Channel<int> _waiting = Channel.CreateUnbounded<int>();
    private readonly ConcurrentDictionary<int, WorkProgress> _live = new();
    private readonly ConcurrentDictionary<int, bool> _stoppedEarly = new();

    /// <summary>Asks for a check of a shot.</summary>
    public async Task<CheckRow> AskAsync(int shotId, bool pixels, bool byContent = false)
    {
        CheckRow check = await store.AddCheckAsync(shotId, pixels, byContent);
        await _waiting.Writer.WriteAsync(check.Id);
        return check;
    }

    /// <summary>Progress of a running check, or null.</summary>
    public WorkProgress? Live(int checkId) => _live.GetValueOrDefault(checkId);

    /// <summary>Stops a check, running or waiting. What it has read stays known.</summary>
    public void Stop(int checkId)
    {
        _stoppedEarly[checkId] = true;
        Live(checkId)?.Stop();
    }

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        await Task.Yield();
        List<CheckRow> left = await store.UnfinishedChecksAsync();
        foreach (CheckRow check in left.GroupBy(c => c.ShotId).Select(g => g.Last()))
        {
            await _waiting.Writer.WriteAsync(check.Id, stoppingToken);
        }

        foreach (CheckRow older in left.GroupBy(c => c.ShotId).SelectMany(g => g.SkipLast(1)))
        {
            await store.SetCheckAsync(older.Id, WorkState.Stopped);
        }

        await foreach (int id in _waiting.Reader.ReadAllAsync(stoppingToken))
        {
            await Background.DoAsync(log, $"note the end of check {id}", () => RunGuardedAsync(id, stoppingToken), stoppingToken);
        }
    }

    private async Task RunGuardedAsync(int id, CancellationToken ending)
    {
        try
        {
            await RunAsync(id, ending);
        }
        catch (Exception e) when (!ending.IsCancellationRequested)
        {
            log.LogError(e, "Check {Check} failed", id);
            await store.SetCheckAsync(id, WorkState.Failed, problem: $"The check could not be done: {e.Message}");
        }
    }

    private async Task RunAsync(int id, CancellationToken ending)
    {
        if (_stoppedEarly.TryRemove(id, out _))
        {
            await store.SetCheckAsync(id, WorkState.Stopped);
            return;
        }

        (CheckRow check, ShotRow shot) = await store.CheckWithShotAsync(id);
        Plan plan = desk.PlanOf(shot);
        (string? folder, string? problem) = roots.Resolve(shot.Root, shot.Folder);
        if (folder is null)
        {
            await store.SetCheckAsync(id, WorkState.Failed, problem: problem);
            return;
        }

        using var stop = CancellationTokenSource.CreateLinkedTokenSource(ending);
        var progress = new WorkProgress(stop) { Doing = "listing the folder" };
        _live[id] = progress;
        await store.SetCheckAsync(id, WorkState.Running, shot.Revision);
        try
        {
            (Intake intake, CheckReport report) = await Task.Run(() => FolderCheck.Run(folder, plan, check.Pixels ? FactsDepth.Pixels : FactsDepth.Header, facts, new Told(progress), stop.Token, limits, check.ByContent), stop.Token);
            facts.Flush();
            desk.Keep(id, intake);
            await store.SetCheckAsync(id, WorkState.Done, report: report);
            await store.NoteAsync(shot.Id, $"checked: {Counted(report.Summary)}");
        }
        catch (OperationCanceledException)
        {
            facts.Flush();
            if (!ending.IsCancellationRequested)
            {
                await store.SetCheckAsync(id, WorkState.Stopped);
            }
        }
        catch (DirectoryNotFoundException e)
        {
            await store.SetCheckAsync(id, WorkState.Failed, problem: e.Message);
        }
        finally
        {
            _live.TryRemove(id, out _);
            _stoppedEarly.TryRemove(id, out _);
        }
    }

    private static string Counted(CheckSummary s) => s.Blockers > 0 ? $"{s.Blockers} blockers" : s.Warnings > 0 ? $"{s.Warnings} to look at" : "clean";

    /// <summary>Hands intake progress on, without a thread switch per file.</summary>
    private sealed class Told(WorkProgress progress) : IProgress<IntakeProgress>
    {
        public void Report(IntakeProgress value)
        {
            progress.Doing = $"reading {value.Current}";
            progress.Set(value.Files, value.OfFiles);
        }
    }
}
