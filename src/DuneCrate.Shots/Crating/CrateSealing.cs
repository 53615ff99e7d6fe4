using System.Diagnostics;
using System.Security.Cryptography;
using DuneCrate.Checking;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Crates;
using DuneCrate.Crates.Deltas;
using DuneCrate.Crates.Events;
using DuneCrate.Crates.Recipes;
using DuneCrate.Crates.Signing;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;
using DuneCrate.Planning.Model;
using DuneCrate.Shots.Checking;
using DuneCrate.Shots.Jobs;
using DuneCrate.Shots.Roots;
using DuneCrate.Shots.Views;
using DuneCrate.Store;
using DuneCrate.Store.Keeping;
using DuneCrate.Store.Rows;

namespace DuneCrate.Shots.Crating;

/// <summary>Seals crates of shots: every pixel is checked first; unchanged files are known already.</summary>
public sealed class CrateSealing(
    ShotCheck check,
    CrateMaterial material,
    PreflightGate gate,
    CrateStore crateStore,
    ShotViews views,
    StorageRoots roots,
    SealedFolders folders,
    ReadLimits limits,
    InstallationKeys keys,
    LowPriorityScheduler lowPriority,
    TimeProvider clock
)
{
    /// <summary>Checks a shot and seals what a row asks for.</summary>
    /// <exception cref="CrateRefusedException">It is not to be sealed; the message says why.</exception>
    /// <exception cref="SealingPausedException">It was put off.</exception>
    public async Task<SealedCrate> SealAsync(CrateRow row, ShotRow shot, JobProgress progress, CancellationToken stop)
    {
        progress.Doing = "checking every pixel";
        Plan plan = views.PlanOf(shot);
        if (await gate.ReasonAsync(shot, plan.Show) is { } open)
        {
            throw new CrateRefusedException(open);
        }

        Waiver[] waivers = await material.WaiversAsync(shot.Id, stop);
        CheckResult found;
        try
        {
            found = await check.RunAsync(shot, plan, FactsDepth.Pixels, byContent: false, progress, stop);
        }
        catch (DirectoryNotFoundException e)
        {
            throw new CrateRefusedException(e.Message);
        }

        await check.KeepAsync(shot, found, stop);
        if (progress.IsPausing)
        {
            throw new SealingPausedException();
        }

        CrateRecipe? recipe = row.Recipe is { } wanted ? CrateRecipe.Read(wanted) : null;
        CrateContents contents = await material.WithAsync(CrateContents.From(found.Context, row.Layout, recipe), shot.Id, plan, stop);
        CrateRow? older = row.OntoId is { } onto ? await crateStore.CrateAsync(shot.Id, onto, stop) : null;
        using ECDsa key = keys.Current();
        return await lowPriority.DoAsync(() =>
            CrateBuilder.Seal(
                contents,
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

    /// <summary>The crate of a row that was published before its end was noted; null when it was not.</summary>
    public Task<SealedCrate?> FindAsync(CrateRow row, ShotRow shot, CancellationToken cancel) =>
        Task.Run(() => CrateBuilder.Find(roots.CratesOf(shot.Show.Code, shot.Code), shot.Code, row.SealId), cancel);

    /// <summary>Takes away what is left of a sealing that will not be gone on with.</summary>
    public Task SweepAsync(CrateRow row, ShotRow shot) =>
        Task.Run(() => CrateBuilder.Sweep(roots.CratesOf(shot.Show.Code, shot.Code), row.SealId));

    /// <summary>Takes away what a kill left of a history that was being written.</summary>
    public Task TidyAsync(string show, string shot) =>
        Task.Run(() =>
        {
            StoragePath crates = roots.CratesOf(show, shot);
            if (crates.IsThere)
            {
                CrateHistory.Sweep(crates);
            }
        });

    private StoragePath FolderOf(CrateRow crate) =>
        folders.FolderOf(crate)
        ?? throw new CrateRefusedException($"{crate.Name} lies in no folder of this application any more; seal a whole crate.");

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
