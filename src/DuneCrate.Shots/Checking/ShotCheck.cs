using DuneCrate.Checking;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Intake.Gathering;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Storage;
using DuneCrate.Planning.Model;
using DuneCrate.Shots.Jobs;
using DuneCrate.Shots.Live;
using DuneCrate.Shots.Roots;
using DuneCrate.Store;
using DuneCrate.Store.Rows;

namespace DuneCrate.Shots.Checking;

/// <summary>Holds a shot's folder against its plan, the same for whoever asks: a check, and the sealing of a crate.</summary>
public sealed class ShotCheck(
    CheckStore checkStore,
    FactsStore facts,
    ShowGrounds grounds,
    CheckRequests requests,
    ReportIntakes intakes,
    ShotEvents events,
    LowPriorityScheduler lowPriority,
    IFactsGatherer gatherer,
    ILogger<ShotCheck> log
)
{
    /// <summary>Checks it. What was read is remembered; the caller keeps the result in <see cref="ReportIntakes"/>.</summary>
    /// <param name="shot">The shot.</param>
    /// <param name="plan">Its plan.</param>
    /// <param name="depth">How much of each file is read.</param>
    /// <param name="byContent">Whether files are told apart by their content.</param>
    /// <param name="progress">Told how far it is.</param>
    /// <param name="stop">Stops it.</param>
    /// <exception cref="DirectoryNotFoundException">The folder is gone, or is none of the show's; the message says so.</exception>
    /// <exception cref="OperationCanceledException">It was stopped.</exception>
    public async Task<CheckResult> RunAsync(
        ShotRow shot,
        Plan plan,
        FactsDepth depth,
        bool byContent,
        JobProgress progress,
        CancellationToken stop
    )
    {
        ShowGround ground = await grounds.OfAsync(shot.Show, stop);
        intakes.MakeRoom(await checkStore.NewestReportIdAsync(shot.Id, stop));
        try
        {
            return await lowPriority.DoAsync(() =>
            {
                (StoragePath? folder, string? refused) = ground.Resolve(shot.Root, shot.Folder);
                CheckRequest request = requests.Of(folder ?? throw new DirectoryNotFoundException(refused), plan, depth) with
                {
                    ByContent = byContent,
                    Progress = new Reporter(progress, () => gatherer.MachinesFor(folder)),
                };
                return FolderCheck.Run(request, stop);
            });
        }
        finally
        {
            Flush();
        }
    }

    /// <summary>Keeps a check that nobody asked for by itself as the shot's newest, and tells open pages.</summary>
    public async Task KeepAsync(ShotRow shot, CheckResult found, CancellationToken stop)
    {
        if (await checkStore.KeepCheckAsync(shot.Id, shot.Revision, found.Report, stop) is { } id)
        {
            intakes.Keep(id, found.Context);
            events.Tell(shot.Id, "check", new { ended = id });
        }
    }

    /// <summary>Keeps what was read; on a full disk it is read once more another time.</summary>
    private void Flush()
    {
        try
        {
            facts.Flush();
        }
        catch (Exception e) when (StoreFile.IsDisk(e))
        {
            log.LogError(e, "Could not remember what was read");
        }
    }

    /// <summary>Hands intake progress on, without a thread switch per file.</summary>
    private sealed class Reporter(JobProgress progress, Func<int> machines) : IProgress<IntakeProgress>
    {
        public void Report(IntakeProgress value)
        {
            string others = machines() is > 0 and var count ? $"{Words.Count(count, "machine")} at it, " : "";
            progress.Doing = $"{others}reading {value.Current}";
            progress.Set(value.Files, value.OfFiles);
        }
    }
}
