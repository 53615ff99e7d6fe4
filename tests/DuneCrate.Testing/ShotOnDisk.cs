using DuneCrate.Checking;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Intake.Gathering;
using DuneCrate.Checking.Reports;
using DuneCrate.Engine;
using DuneCrate.Engine.Workers;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.Testing;

/// <summary>A small shot with faults below a root, what a check in this process says of it, and the same over an engine.</summary>
public sealed class ShotOnDisk : IDisposable
{
    private const string Code = "KP010";

    private readonly string _folder = Directory.CreateTempSubdirectory("dune-crate-machines-").FullName;

    /// <summary>Renders it.</summary>
    /// <param name="frames">Frames from 1001 on.</param>
    public ShotOnDisk(int frames = 8)
    {
        string to = Path.Combine(Root, Code);
        Plan = StandInPlan.Create(Code, FrameSet.Range(1001, 1000 + frames), 64, 36);
        Disk.Render(Plan, to, null, [Fault.Read("truncated:sub:1002"), Fault.Read("nonfinite:kelp:1003"), Fault.Read("unlit:kelp:1004")]);
        File.WriteAllText(Path.Combine(to, "plan.json"), PlanDocument.Write(Plan));
        Here = Text(Check(null));
    }

    /// <summary>The root.</summary>
    public string Root => Path.Combine(_folder, "renders");

    /// <summary>The shot's folder.</summary>
    public StoragePath Folder => StorageRoot.At(Path.Combine(Root, Code)).Top;

    /// <summary>The plan that it was rendered to.</summary>
    public Plan Plan { get; }

    /// <summary>The report of this process.</summary>
    public string Here { get; }

    /// <summary>A server's side of the engine, connected.</summary>
    public EngineGatherer Server(Broker broker, string site, IFactsCache? cache = null, EngineOptions? options = null)
    {
        var server = new EngineGatherer(
            options ?? broker.Options,
            new EngineNames(site),
            new Dictionary<string, string> { ["renders"] = StorageRoot.At(Root).FullPath },
            cache ?? new NoFactsCache(),
            Said.Enqueue
        );
        server.ConnectAsync(default).GetAwaiter().GetResult();
        return server;
    }

    /// <summary>What servers and workers have said.</summary>
    public System.Collections.Concurrent.ConcurrentQueue<string> Said { get; } = new();

    /// <summary>A worker in this process.</summary>
    public Worker WorkerHere(
        Broker broker,
        string? root = null,
        ReadLimits? limits = null,
        string? site = null,
        Action<string>? tell = null
    ) =>
        new(
            new WorkerOptions(
                broker.Options,
                new Dictionary<string, string> { ["renders"] = root ?? Root },
                1,
                site,
                limits ?? ReadLimits.Default
            ),
            tell ?? Said.Enqueue
        );

    /// <summary>A check, over the engine or here.</summary>
    public CheckReport Check(IFactsGatherer? gatherer, IFactsCache? cache = null, CancellationToken cancel = default) =>
        FolderCheck.Run(Asked(cache) with { Gatherer = gatherer ?? GatheringHere.Shared }, cancel).Report;

    /// <summary>What a check of it is asked.</summary>
    public CheckRequest Asked(IFactsCache? cache = null) => Disk.Asked(Folder, Plan, FactsDepth.Pixels, cache);

    /// <summary>A report as it is written, but for the time that it took.</summary>
    public static string Text(CheckReport report) => (report with { Summary = report.Summary with { Seconds = 0 } }).Write();

    public void Dispose() => Directory.Delete(_folder, recursive: true);
}
