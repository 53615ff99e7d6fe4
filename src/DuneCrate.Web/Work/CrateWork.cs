using System.Collections.Immutable;
using System.Threading.Channels;
using DuneCrate.Core.Checks;
using DuneCrate.Core.Crates;
using DuneCrate.Core.Intake;
using DuneCrate.Core.Planning;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Roots;
using DuneCrate.Web.Shots;

namespace DuneCrate.Web.Work;

/// <summary>Seals and reads back crates, one after the other. Every seal checks every pixel first; unchanged files are known already.</summary>
public sealed class CrateWork(ShowStore store, FactsStore facts, StorageRoots roots, ReadLimits limits, ShotDesk desk, ILogger<CrateWork> log) : BackgroundService
{
    private readonly Channel<Func<CancellationToken, Task>> _waiting = Channel.CreateUnbounded<Func<CancellationToken, Task>>();
    private readonly LiveWork _live = new();

    /// <summary>Asks for a crate to be sealed.</summary>
    public async Task SealAsync(int shotId, string layout, string by)
    {
        CrateRow crate = await store.AddCrateAsync(shotId, layout, by);
        await _waiting.Writer.WriteAsync(ending => Guarded(crate.Id, c => SealAsync(crate.Id, shotId, layout, by, c), ending));
    }

    /// <summary>Asks for a crate to be read back.</summary>
    public async Task VerifyAsync(CrateRow crate)
    {
        var stop = new CancellationTokenSource();
        var progress = new WorkProgress(stop) { Doing = "waiting to be read back" };
        IDisposable live = _live.Begin(crate.Id, progress);
        await _waiting.Writer.WriteAsync(async ending =>
        {
            // In this order: a page that finds nothing running takes what is stored for the result, and asks no more.
            using (stop)
            using (live)
            {
                await VerifyAsync(crate, progress, stop.Token, ending);
            }
        });
    }

    /// <summary>What is being sealed, read back or waits for it, by crate.</summary>
    public ImmutableDictionary<int, WorkProgress> Live => _live.Now;

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        await Task.Yield();
        await store.EndUnfinishedCratesAsync();
        await foreach (Func<CancellationToken, Task> work in _waiting.Reader.ReadAllAsync(stoppingToken))
        {
            await Background.DoAsync(log, "note the end of a crate's work", () => work(stoppingToken), stoppingToken);
        }
    }

    private async Task Guarded(int crateId, Func<CancellationToken, Task> work, CancellationToken ending)
    {
        try
        {
            await work(ending);
        }
        catch (OperationCanceledException)
        {
            await store.ChangeCrateAsync(crateId, c => (c.State, c.Ended, c.Problem) = (WorkState.Stopped, DateTime.UtcNow, "Stopped before it was sealed. Nothing was left behind."));
        }
        catch (Exception e)
        {
            if (e is not (CrateRefusedException or IOException or UnauthorizedAccessException))
            {
                log.LogError(e, "Crate {Crate} failed", crateId);
            }

            await store.ChangeCrateAsync(crateId, c => (c.State, c.Ended, c.Problem) = (WorkState.Failed, DateTime.UtcNow, e.Message));
        }
    }

    private async Task SealAsync(int crateId, int shotId, string layout, string by, CancellationToken ending)
    {
        using var stop = CancellationTokenSource.CreateLinkedTokenSource(ending);
        var progress = new WorkProgress(stop) { Doing = "checking every pixel" };
        using IDisposable live = _live.Begin(crateId, progress);
        await store.ChangeCrateAsync(crateId, c => c.State = WorkState.Running);
        ShotRow shot = await store.ShotAsync(shotId) ?? throw new CrateRefusedException("The shot is gone.");
        Plan plan = desk.PlanOf(shot);
        (string? folder, string? problem) = roots.Resolve(shot.Root, shot.Folder);
        if (folder is null)
        {
            throw new CrateRefusedException(problem!);
        }

        Waiver[] waivers = [.. (await store.WaiversAsync(shotId)).Select(ShowStore.ToWaiver)];
        string path = await Task.Run(
            () =>
            {
                (Intake intake, CheckReport report) = FolderCheck.Run(folder, plan, FactsDepth.Pixels, facts, null, stop.Token, limits);
                facts.Flush();
                return CrateBuilder.Seal(CrateContents.Of(plan, intake, layout), report.With(waivers), folder, roots.CratesOf(shot.Show.Code, shot.Code), new Told(progress), stop.Token);
            }, stop.Token);
        CrateManifest manifest = CrateManifest.Read(await File.ReadAllTextAsync(Path.Combine(path, "crate.json"), ending));
        FileInfo[] files = new DirectoryInfo(path).GetFiles("*", SearchOption.AllDirectories);
        await store.ChangeCrateAsync(crateId, c =>
        {
            (c.State, c.Ended, c.Name, c.Path, c.Verified) = (WorkState.Done, DateTime.UtcNow, manifest.Name, path, DateTime.UtcNow);
            (c.Files, c.Bytes) = (files.Length, files.Sum(f => f.Length));
        });
        await store.NoteAsync(shotId, $"{manifest.Name} sealed by {by}");
    }

    private async Task VerifyAsync(CrateRow crate, WorkProgress progress, CancellationToken asked, CancellationToken ending)
    {
        using var stop = CancellationTokenSource.CreateLinkedTokenSource(ending, asked);
        progress.Doing = "reading every file back";
        try
        {
            string problems;
            try
            {
                CrateProof proof = await Task.Run(() => CrateVerifier.Verify(crate.Path!, stop.Token), stop.Token);
                problems = string.Join('\n', proof.Problems);
            }
            catch (Exception e) when (e is FormatException or IOException or UnauthorizedAccessException)
            {
                problems = e.Message;
            }

            await store.ChangeCrateAsync(crate.Id, c => (c.Verified, c.VerifyProblems) = (DateTime.UtcNow, problems));
            await store.NoteAsync(crate.ShotId, problems.Length == 0 ? $"{crate.Name} read back: whole" : $"{crate.Name} read back: not whole");
        }
        catch (OperationCanceledException)
        {
            // The application ends; what was known of the crate stays.
        }
    }

    /// <summary>Hands sealing progress on.</summary>
    private sealed class Told(WorkProgress progress) : IProgress<CrateProgress>
    {
        public void Report(CrateProgress value)
        {
            progress.Doing = value.Doing;
            progress.Set(value.Doing == "copying" ? value.Files : value.OfFiles + value.Files, value.OfFiles * 2L);
        }
    }
}
