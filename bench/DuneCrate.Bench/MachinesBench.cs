using System.Collections.Immutable;
using System.Diagnostics;
using System.Globalization;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Intake.Gathering;
using DuneCrate.Engine;
using DuneCrate.Engine.Messages;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Listing;
using DuneCrate.Planning.Model;
using DuneCrate.Store;
using Microsoft.Extensions.DependencyInjection;
using NATS.Client.Core;
using NATS.Client.JetStream;

namespace DuneCrate.Bench;

/// <summary>
/// Two workers of one thread against two threads in process, on the same cores; how long a first frame waits behind a full queue; and a
/// simulated storage with very many files, read by workers that answer from a table.
/// </summary>
internal static class MachinesBench
{
    private const int Frames = 48,
        Runs = 3,
        Queued = 200,
        Simulated = 64,
        UsualFiles = 100_000;
    private static readonly TimeSpan Latency = TimeSpan.FromMilliseconds(20);

    public static void Run(string work)
    {
        string renders = Path.Combine(work, "renders"),
            folder = Path.Combine(renders, "KP010");
        BenchFrames.Write(BenchFrames.Plan(Frames), folder);
        using var broker = new BenchBroker(Path.Combine(work, "engine"));
        BenchWorker[] workers = [.. Enumerable.Range(0, 2).Select(_ => new BenchWorker(broker, renders))];
        try
        {
            Facts(broker, folder, renders, workers);
            string[] check = ["check", folder, "--plan", Path.Combine(folder, "plan.json"), "--depth", "pixels", "--json", "-"];
            (Timed here, Timed there) = Timed.Side(
                () => PixelBench.Dune(check),
                () => PixelBench.Dune([.. check, "--engine", broker.Options.Shown, "--root", $"renders={renders}"]),
                Runs
            );
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"  whole commands with start and rules: in process {here.Seconds:0.00} s, over the engine {there.Seconds:0.00} s, "
                        + $"of it {there.Processor:0.00} s processor time of the command that asks"
                )
            );
        }
        finally
        {
            foreach (BenchWorker worker in workers)
            {
                worker.Dispose();
            }
        }

        FirstFrame(work, broker, folder, renders);
    }

    /// <summary>Pixel facts alone, as a server that runs asks for them: of the workers, and of two threads of its own.</summary>
    private static void Facts(BenchBroker broker, string folder, string renders, BenchWorker[] workers)
    {
        EngineGatherer server = Server(broker, "facts", renders);
        FactsOrder order = Order(folder, FolderListing.Read(StorageRoot.At(folder).Top, default).Files, GatherPriority.Usual);
        var own = Process.GetCurrentProcess();
        TimeSpan asking = TimeSpan.Zero,
            brokering = TimeSpan.Zero,
            reading = TimeSpan.Zero;
        double[] here = new double[Runs],
            there = new double[Runs];
        for (int i = -1; i < Runs; i++)
        {
            double alone = Seconds(() => GatheringHere.Shared.Gather(order, (_, _) => { }, default));
            (TimeSpan askingBefore, TimeSpan brokeringBefore, TimeSpan readingBefore) = (
                Processor(own),
                broker.Processor,
                Processor(workers)
            );
            double asked = Seconds(() => server.Gather(order, (_, _) => { }, default));
            if (i >= 0)
            {
                (here[i], there[i]) = (alone, asked);
                asking += Processor(own) - askingBefore;
                brokering += broker.Processor - brokeringBefore;
                reading += Processor(workers) - readingBefore;
            }
        }

        server.DisposeAsync().AsTask().GetAwaiter().GetResult();
        (double a, double b) = (here.Order().ElementAt(Runs / 2), there.Order().ElementAt(Runs / 2));
        double share = 100 * (asking + brokering) / reading;
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"Machines: pixel facts of {Frames} files of 1920 × 1080 × 32 channels: two threads in process {a:0.00} s, two workers "
                    + $"of one thread {b:0.00} s: {a / b:0.00} × (goal 0.85)"
            )
        );
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"  processor time of a run: workers {reading.TotalSeconds / Runs:0.00} s, server {asking.TotalSeconds / Runs:0.00} s, "
                    + $"broker {brokering.TotalSeconds / Runs:0.00} s: together {share:0.0} % (goal 10)"
            )
        );
        Ledger.Note("two workers of one thread against two threads in process", a / b, "×", 0.85);
        Ledger.Note("processor time of broker and server, of the workers'", share, "%", 10, isMoreBetter: false);
    }

    private static double Seconds(Action run)
    {
        long start = Stopwatch.GetTimestamp();
        run();
        return Stopwatch.GetElapsedTime(start).TotalSeconds;
    }

    private static EngineGatherer Server(BenchBroker broker, string site, string renders)
    {
        var server = new EngineGatherer(
            broker.Options,
            new EngineNames(site),
            new Dictionary<string, string> { ["renders"] = StorageRoot.At(renders).FullPath },
            new NoFactsCache(),
            Console.WriteLine
        );
        server.ConnectAsync(default).GetAwaiter().GetResult();
        return server;
    }

    private static FactsOrder Order(string folder, ImmutableArray<IntakeFile> files, GatherPriority haste)
    {
        var request = new FactsRequest(FactsDepth.Pixels);
        return new FactsOrder(
            StorageRoot.At(folder).Top,
            FactsDepth.Pixels,
            files,
            [.. Enumerable.Range(0, files.Length)],
            _ => request,
            new NoFactsCache(),
            ReadLimits.Default
        )
        {
            Priority = haste,
        };
    }

    private static TimeSpan Processor(Process process)
    {
        process.Refresh();
        return process.TotalProcessorTime;
    }

    private static TimeSpan Processor(BenchWorker[] workers) => workers.Aggregate(TimeSpan.Zero, (sum, w) => sum + w.Processor);

    /// <summary>A worker of one thread has 200 files before it; a first frame comes in between.</summary>
    private static void FirstFrame(string work, BenchBroker broker, string folder, string renders)
    {
        using var worker = new BenchWorker(broker, renders);
        EngineGatherer server = Server(broker, "first", renders);
        ImmutableArray<IntakeFile> listed = FolderListing.Read(StorageRoot.At(folder).Top, default).Files;
        ImmutableArray<IntakeFile> many = [.. Enumerable.Range(0, Queued).Select(i => listed[i % listed.Length])];
        using var stop = new CancellationTokenSource();
        using var begun = new ManualResetEventSlim();
        Task bulk = Task.Run(() => server.Gather(Order(folder, many, GatherPriority.Usual), (_, _) => begun.Set(), stop.Token));
        begun.Wait();
        var times = new List<double>();
        for (int i = 0; i < Runs; i++)
        {
            times.Add(Seconds(() => server.Gather(Order(folder, [listed[i]], GatherPriority.First), (_, _) => { }, default)));
        }

        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"  first frame behind {Queued} queued files, one worker: median {times.Order().ElementAt(Runs / 2):0.00} s, worst "
                    + $"{times.Max():0.00} s (goal 1.5); whole queue still running: {!bulk.IsCompleted}"
            )
        );
        stop.Cancel();
        try
        {
            bulk.Wait();
        }
        catch (AggregateException)
        {
            // It was stopped.
        }

        server.DisposeAsync().AsTask().GetAwaiter().GetResult();
    }

    /// <summary>A storage that is simulated: every file has the facts of one, and each takes its time.</summary>
    public static async Task ScaleAsync(string work, int files)
    {
        files = files > 0 ? files : UsualFiles;
        (Plan plan, var known) = KnownFacts.Make(work, 1, 1);
        FileFacts one = known.Values.First();
        string root = Directory.CreateDirectory(Path.Combine(work, "simulated", "KP010")).FullName,
            database = Path.Combine(work, "scale.db");
        using var broker = new BenchBroker(Path.Combine(work, "engine"));
        using ServiceProvider services = new ServiceCollection().AddDuneCrateStore(database).BuildServiceProvider();
        FactsStore store = services.GetRequiredService<FactsStore>();
        await using var server = new EngineGatherer(
            broker.Options,
            new EngineNames("scale"),
            new Dictionary<string, string> { ["renders"] = Path.GetDirectoryName(StorageRoot.At(root).FullPath)! },
            store,
            Console.WriteLine
        );
        await server.ConnectAsync(default);
        using var ending = new CancellationTokenSource();
        Task[] workers = [.. Enumerable.Range(0, Simulated).Select(i => SimulateAsync(broker, $"sim{i}", one, ending.Token))];
        StoragePath folder = StorageRoot.At(root).Top;
        ImmutableArray<IntakeFile> listed =
        [
            .. Enumerable
                .Range(0, files)
                .Select(i => $"sub/KP010_sub.{i:0000000}.exr")
                .Select(path => new IntakeFile(folder.At(path), path, one.Bytes, one.Modified)),
        ];
        var request = new FactsRequest(FactsDepth.Pixels);
        var process = Process.GetCurrentProcess();
        long start = Stopwatch.GetTimestamp(),
            mostQueued = 0;
        int got = 0;
        using var watching = new CancellationTokenSource();
        Task watch = Task.Run(async () =>
        {
            while (!watching.IsCancellationRequested)
            {
                mostQueued = Math.Max(mostQueued, (await server.ViewAsync(default)).Queues.Sum(q => q.Waiting + q.Taken));
                await Task.Delay(500);
            }
        });
        server.Gather(
            new FactsOrder(folder, FactsDepth.Pixels, listed, [.. Enumerable.Range(0, files)], _ => request, store, ReadLimits.Default),
            (_, _) => Interlocked.Increment(ref got),
            default
        );
        double seconds = Stopwatch.GetElapsedTime(start).TotalSeconds;
        await watching.CancelAsync();
        await watch;
        store.Flush();
        process.Refresh();
        long bytes = Directory.GetFiles(work, "scale.db*").Sum(f => new FileInfo(f).Length);
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"Simulated storage: {got:N0} of {files:N0} files, {Simulated} workers, {Latency.TotalMilliseconds:0} ms a file: "
                    + $"{seconds:0.0} s, "
                    + $"{files / seconds:0} files a second; at most {mostQueued} pieces queued; "
                    + $"peak {process.PeakWorkingSet64 >> 20} MiB with the simulated workers in it; "
                    + $"database {bytes / 1e6:0} MB, {bytes / files} bytes a file; "
                    + $"broker {broker.Processor.TotalSeconds:0.0} s "
                    + $"of processor time, all {process.TotalProcessorTime.TotalSeconds:0.0} s"
            )
        );
        await ending.CancelAsync();
        await Task.WhenAll(workers);
    }

    private static async Task SimulateAsync(BenchBroker broker, string name, FileFacts one, CancellationToken ending)
    {
        var names = new EngineNames("scale");
        await using NatsConnection connection = await broker.Options.ConnectAsync(name, "scale", ending);
        var engine = new NatsJSContext(connection);
        byte[] news = MessagePacking.Pack(new WorkerNews(name, name, ["renders"], 1, [], 0, 0, false));
        byte[] content = new byte[16];
        INatsJSConsumer consumer = await engine.GetConsumerAsync(names.Work, EngineNames.Consumer(WorkKind.Bulk, "renders"), ending);
        DateTime told = default;
        while (!ending.IsCancellationRequested)
        {
            if (DateTime.UtcNow - told > TimeSpan.FromSeconds(2))
            {
                told = DateTime.UtcNow;
                await connection.PublishAsync(names.Progress(name), news, cancellationToken: CancellationToken.None);
            }

            bool had = false;
            await foreach (INatsJSMsg<byte[]> message in consumer.FetchNoWaitAsync<byte[]>(new NatsJSFetchOpts { MaxMsgs = 1 }))
            {
                had = true;
                WorkMessage work = MessagePacking.Unpack<WorkMessage>(message.Data);
                await Task.Delay(Latency * work.Files.Length, CancellationToken.None);
                FactsMessage found = new(
                    work.Run,
                    work.Piece,
                    work.Token,
                    name,
                    null,
                    [.. work.Files.Select(f => new FileFound(one with { Path = f.Path }, content))],
                    []
                );
                await engine.PublishAsync(names.FactsOf(work.Run, work.Piece, work.Token), MessagePacking.Pack(found));
                await message.AckAsync(new AckOpts { DoubleAck = true });
            }

            if (!had)
            {
                await Task.Delay(100, CancellationToken.None);
            }
        }
    }
}
