using DuneCrate.Foundation.Time;
using DuneCrate.Shots.Crating;
using DuneCrate.Shots.Jobs;
using DuneCrate.Store;
using DuneCrate.Store.Keeping;
using DuneCrate.Store.Rows;

namespace DuneCrate.Web.Stations.Upkeep;

/// <summary>
/// Forgets what can be made anew and is older than people want it kept: old checks, and facts of files that nobody asks for. Once a day,
/// and when a person asks.
/// </summary>
public sealed class UpkeepService(
    UpkeepStore upkeepStore,
    CheckStore checkStore,
    CrateStore crateStore,
    FactsStore facts,
    DataFolder data,
    HistoryHead head,
    CrateQueue crates,
    TimeProvider clock,
    ILogger<UpkeepService> log
) : BackgroundService
{
    private static readonly TimeSpan Pace = TimeSpan.FromDays(1),
        AfterStart = TimeSpan.FromMinutes(10);

    private readonly SemaphoreSlim _turn = new(1, 1);

    /// <summary>Tidies up now.</summary>
    /// <returns>Checks, files and superseded crates that were forgotten.</returns>
    public async Task<(int Checks, int Files, int Crates)> TidyAsync(CancellationToken cancel)
    {
        await _turn.WaitAsync(cancel);
        try
        {
            UpkeepRow kept = await upkeepStore.UpkeepAsync(cancel);
            int checks = await checkStore.ForgetChecksAsync(kept.ChecksKept, cancel);
            int today = (int)(clock.UtcNow - DateTime.UnixEpoch).TotalDays;
            int files = await facts.ForgetAsync(today - kept.FactsDays, cancel);
            return (checks, files, kept.SupersededDays == 0 ? 0 : await ForgetCratesAsync(kept.SupersededDays, cancel));
        }
        finally
        {
            _turn.Release();
        }
    }

    /// <summary>Deletes crates in whose place newer ones have stood for some days.</summary>
    private async Task<int> ForgetCratesAsync(int days, CancellationToken cancel)
    {
        List<CrateRow> superseded = await crateStore.SupersededCratesAsync(clock.UtcNow.AddDays(-days), cancel);
        foreach (CrateRow crate in superseded)
        {
            await crates.ForgetAsync(crate, cancel);
        }

        return superseded.Count;
    }

    /// <summary>Keeps the database and the keys in a backup of the day; the oldest beyond those that are kept go.</summary>
    public Task<BackupContents> BackupAsync(CancellationToken cancel) =>
        Task.Run(
            () =>
            {
                head.Sign();
                string folder = data.Private(DataFolder.Backups).FullName;
                BackupContents made = Backup.Make(
                    data.Path,
                    Path.Combine(folder, BackupPolicy.DailyName(clock.UtcNow)),
                    hasCrates: false,
                    cancel,
                    clock
                );
                BackupPolicy.Prune(folder);
                return made;
            },
            cancel
        );

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(AfterStart, clock);
        while (await timer.WaitForNextTickAsync(stoppingToken))
        {
            timer.Period = Pace;
            await Background.DoAsync(log, "keep a backup", () => BackupAsync(stoppingToken), stoppingToken);
            await Background.DoAsync(log, "tidy up", () => TidyAsync(stoppingToken), stoppingToken);
        }
    }
}
