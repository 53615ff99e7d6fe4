using System.Diagnostics;
using DuneCrate.Checking;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Intake.Gathering;
using DuneCrate.Checking.Reports;
using DuneCrate.Engine;
using DuneCrate.Engine.Workers;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;
using DuneCrate.Planning.Model;
using DuneCrate.StandIns.Renderer;
using NATS.Client.Core;
using NATS.Client.JetStream;

namespace DuneCrate.Bench.Trial;

/// <summary>An engine that goes away at random moments, and one that sends nonsense: reports are those of this process, and nobody
/// waits.</summary>
internal static class EngineTrials
{
    private const int Seed = 20261201;
    private const string Site = "trial";

    /// <summary>Kills or freezes the engine somewhere in a check; every other time the check is stopped meanwhile.</summary>
    public static async Task<(int, IReadOnlyCollection<string>)> OutagesAsync(string work, int times)
    {
        (StoragePath folder, Plan plan, string renders) = Shot(work);
        string here = Text(Check(folder, plan, null, default));
        var wrong = new List<string>();
        var random = new Random(Seed);
        var broker = new BenchBroker(Path.Combine(work, "js"));
        using var ending = new CancellationTokenSource();
        await using EngineGatherer server = await ServerAsync(broker.Options, renders);
        var worker = new Worker(
            new WorkerOptions(broker.Options, new Dictionary<string, string> { ["renders"] = renders }, 1, Site, ReadLimits.Default),
            _ => { }
        );
        Task working = Task.Run(() => worker.RunAsync(ending.Token));
        for (int i = 1; i <= times; i++)
        {
            using var stop = new CancellationTokenSource();
            Task<CheckReport> check = Task.Run(() => Check(folder, plan, server, stop.Token));
            await Task.Delay(random.Next(0, 700));
            bool isFrozen = i % 2 == 0,
                isStopped = i % 4 >= 2;
            int port = broker.Port;
            if (isFrozen)
            {
                Signal(broker, "STOP");
            }
            else
            {
                broker.Dispose();
            }

            long begun = Stopwatch.GetTimestamp();
            try
            {
                if (isStopped)
                {
                    await stop.CancelAsync();
                }

                CheckReport report = await check.WaitAsync(TimeSpan.FromSeconds(60));
                if (Text(report) != here)
                {
                    wrong.Add($"outage {i}: another report");
                }
            }
            catch (OperationCanceledException)
            {
                if (Stopwatch.GetElapsedTime(begun) > TimeSpan.FromSeconds(1))
                {
                    wrong.Add($"outage {i}: stopping took {Stopwatch.GetElapsedTime(begun).TotalSeconds:0.0} s");
                }
            }
            catch (TimeoutException)
            {
                wrong.Add($"outage {i}: the check waits");
            }

            if (isFrozen)
            {
                Signal(broker, "CONT");
            }
            else
            {
                broker = new BenchBroker(Path.Combine(work, "js"), port);
            }
        }

        await ending.CancelAsync();
        await Task.WhenAny(working, Task.Delay(10_000));
        broker.Dispose();
        return (times, wrong);
    }

    /// <summary>Nonsense in the place of results, news and calls, while a check goes on.</summary>
    public static async Task<(int, IReadOnlyCollection<string>)> MalformedAsync(string work, int messages)
    {
        (StoragePath folder, Plan plan, string renders) = Shot(work);
        string here = Text(Check(folder, plan, null, default));
        var wrong = new List<string>();
        using var broker = new BenchBroker(Path.Combine(work, "js"));
        await using EngineGatherer server = await ServerAsync(broker.Options, renders);
        await using NatsConnection connection = await broker.Options.ConnectAsync("liar", null, default);
        var engine = new NatsJSContext(connection);
        var names = new EngineNames(Site);
        var random = new Random(Seed);
        Task<CheckReport> check = Task.Run(() => Check(folder, plan, server, default));
        for (int i = 0; i < messages; i++)
        {
            byte[] nonsense = new byte[random.Next(0, 400)];
            random.NextBytes(nonsense);
            if (nonsense.Length > 4 && i % 3 == 0)
            {
                BitConverter.GetBytes(random.Next(1, 1 << 30)).CopyTo(nonsense, 0);
            }

            if (i % 5 == 0)
            {
                await connection.PublishAsync(i % 2 == 0 ? names.Progress("liar") : names.Stop, nonsense);
            }
            else
            {
                await engine.PublishAsync(names.FactsOf("run", $"{i}", "token"), nonsense);
            }
        }

        try
        {
            if (Text(await check.WaitAsync(TimeSpan.FromSeconds(120))) != here)
            {
                wrong.Add("another report");
            }
        }
        catch (TimeoutException)
        {
            wrong.Add("the check waits");
        }

        long begun = Stopwatch.GetTimestamp();
        INatsJSStream facts = await engine.GetStreamAsync(names.Facts);
        while (facts.Info.State.Messages > 0 && Stopwatch.GetElapsedTime(begun) < TimeSpan.FromSeconds(120))
        {
            await Task.Delay(200);
            await facts.RefreshAsync();
        }

        if (facts.Info.State.Messages > 0)
        {
            wrong.Add($"{facts.Info.State.Messages} messages are left at the engine");
        }

        return (messages, wrong);
    }

    private static (StoragePath Folder, Plan Plan, string Renders) Shot(string work)
    {
        string renders = Path.Combine(work, "renders");
        Plan plan = StandInPlan.Create("KP010", FrameSet.Parse("1001-1012"), 320, 180);
        Disk.Render(plan, Path.Combine(renders, "KP010"), null, []);
        return (StorageRoot.At(Path.Combine(renders, "KP010")).Top, plan, renders);
    }

    private static async Task<EngineGatherer> ServerAsync(EngineOptions options, string renders)
    {
        var server = new EngineGatherer(
            options with
            {
                Away = TimeSpan.FromSeconds(2),
                Publish = TimeSpan.FromSeconds(2),
                Lonely = TimeSpan.FromSeconds(2),
            },
            new EngineNames(Site),
            new Dictionary<string, string> { ["renders"] = StorageRoot.At(renders).FullPath },
            new NoFactsCache(),
            _ => { }
        );
        await server.ConnectAsync(default);
        return server;
    }

    private static CheckReport Check(StoragePath folder, Plan plan, IFactsGatherer? gatherer, CancellationToken cancel) =>
        FolderCheck.Run(Disk.Asked(folder, plan, FactsDepth.Pixels) with { Gatherer = gatherer ?? GatheringHere.Shared }, cancel).Report;

    private static string Text(CheckReport report) => (report with { Summary = report.Summary with { Seconds = 0 } }).Write();

    private static void Signal(BenchBroker broker, string name) => Timed.Run("kill", [$"-{name}", $"{broker.ProcessId}"]);
}
