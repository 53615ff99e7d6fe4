using DuneCrate.Engine.Workers;
using DuneCrate.Imaging;

namespace DuneCrate.Engine.Tests;

/// <summary>
/// What goes wrong with machines and engines, on a real nats-server: each time the report is, byte for byte, the one of a check in this
/// process, and no file is counted twice.
/// </summary>
public sealed class EngineFailureTests : IDisposable
{
    private readonly Broker _broker = new();
    private readonly ShotOnDisk _shot = new();
    private readonly CancellationTokenSource _ending = new();
    private readonly List<Task> _workers = [];

    public void Dispose()
    {
        _ending.Cancel();
        Task.WaitAll([.. _workers]);
        _shot.Dispose();
        _broker.Dispose();
        _ending.Dispose();
    }

    private void Work(Worker worker) => _workers.Add(Task.Run(() => worker.RunAsync(_ending.Token)));

    private string CheckOver(EngineGatherer server, KeptFacts? facts = null)
    {
        facts ??= new KeptFacts();
        string report = ShotOnDisk.Text(_shot.Check(server, facts));
        Assert.All(facts.Times, t => Assert.True(t.Value == 1, $"{t.Key} was counted {t.Value} times"));
        return report;
    }

    /// <summary>A worker process to which something happens in the middle of its work.</summary>
    private WorkerProcess WorkerThatReads20(Action<WorkerProcess> then)
    {
        int files = 0;
        return new WorkerProcess(
            _broker,
            _shot.Root,
            (worker, line) =>
            {
                if (line.Contains("reading", StringComparison.Ordinal) && Interlocked.Increment(ref files) == 20)
                {
                    then(worker);
                }
            }
        );
    }

    [Fact]
    public async Task Two_workers_find_what_this_process_finds()
    {
        await using EngineGatherer server = _shot.Server(_broker, "two");
        Work(_shot.WorkerHere(_broker));
        Work(_shot.WorkerHere(_broker, site: "two"));
        Assert.Equal(_shot.Here, CheckOver(server));
    }

    [Fact]
    public async Task Killed_worker_is_replaced_by_another()
    {
        await using EngineGatherer server = _shot.Server(_broker, "killed");
        using WorkerProcess first = WorkerThatReads20(worker =>
        {
            worker.Kill();
            Work(_shot.WorkerHere(_broker));
        });
        Assert.Equal(_shot.Here, CheckOver(server));
        Assert.NotEqual(0, first.WaitForEnd());
    }

    [Fact]
    public async Task Worker_that_was_frozen_counts_nothing_twice()
    {
        await using EngineGatherer server = _shot.Server(_broker, "frozen");
        using WorkerProcess frozen = WorkerThatReads20(worker =>
        {
            worker.Signal("STOP");
            Work(_shot.WorkerHere(_broker));
        });
        var facts = new KeptFacts();
        Assert.Equal(_shot.Here, CheckOver(server, facts));
        frozen.Signal("CONT");
        frozen.Signal("TERM");
        Assert.Equal(0, frozen.WaitForEnd());
        Assert.All(facts.Times, t => Assert.Equal(1, t.Value));
    }

    [Fact]
    public async Task File_that_takes_longer_than_the_wait_is_read_once()
    {
        // Nothing is asked for again meanwhile: only the wait could give a piece to another.
        EngineOptions patient = _broker.Options with
        {
            Reconcile = TimeSpan.FromMinutes(5),
        };
        await using EngineGatherer server = _shot.Server(_broker, "slow", options: patient);
        var limits = ReadLimits.Default with { Memory = new MemoryGate(1L << 30) };
        IDisposable taken = limits.Memory.Take(1L << 30, default); // Until it is given back, no file can be read.
        Work(_shot.WorkerHere(_broker, limits: limits));
        Task<string> check = Task.Run(() => CheckOver(server));
        Broker.Until(() => _shot.Said.FirstOrDefault(l => l.Contains("reading", StringComparison.Ordinal)));
        await Task.Delay(_broker.Options.AckWait * 2);
        taken.Dispose();
        Assert.Equal(_shot.Here, await check);
        string[] read = [.. _shot.Said.Where(l => l.Contains("reading", StringComparison.Ordinal))];
        Assert.Equal(read.Distinct().Count(), read.Length);
    }

    [Fact]
    public async Task Poison_is_set_aside_alone()
    {
        const string poison = "kelp/KP010_kelp.1005.exr";

        // So large that reading it takes longer than killing whoever does.
        Tool.Oiio("--create", "8192x4096", "4", "-d", "half", "-o", Path.Combine(_shot.Root, "KP010", poison));
        string here = ShotOnDisk.Text(_shot.Check(null));
        await using EngineGatherer server = _shot.Server(_broker, "poison");
        var workers = new List<WorkerProcess>();
        void Start()
        {
            lock (workers)
            {
                workers.Add(
                    new WorkerProcess(
                        _broker,
                        _shot.Root,
                        (worker, line) =>
                        {
                            if (line.EndsWith(poison, StringComparison.Ordinal))
                            {
                                worker.Kill();
                                Start();
                            }
                        }
                    )
                );
            }
        }

        Start();
        string report = CheckOver(server);
        Assert.Contains("it is set aside until somebody looks at it", report, StringComparison.Ordinal);
        AsideFile aside = Assert.Single((await server.ViewAsync(default)).Aside);
        Assert.EndsWith(poison, aside.Name, StringComparison.Ordinal);

        // Nobody is harmed by it again, until somebody asks for it.
        int killed = workers.Count;
        Assert.Equal(report, CheckOver(server));
        Assert.Equal(killed, workers.Count);
        server.TryAgain();
        workers.ForEach(w => w.Dispose());
        Work(_shot.WorkerHere(_broker));
        Assert.Equal(here, CheckOver(server));
        Assert.Empty((await server.ViewAsync(default)).Aside);
    }

    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public async Task Engine_that_was_away_goes_on(bool isForgetful)
    {
        await using EngineGatherer server = _shot.Server(_broker, "away");
        using var away = new ManualResetEventSlim();
        using WorkerProcess worker = WorkerThatReads20(_ => away.Set());
        Task<string> check = Task.Run(() => CheckOver(server));
        away.Wait(TimeSpan.FromSeconds(60));
        _broker.Kill();
        if (isForgetful)
        {
            _broker.Forget();
        }

        _broker.Start();
        Assert.Equal(_shot.Here, await check);
    }

    [Fact]
    public async Task Server_that_was_killed_asks_anew_and_keeps_nothing_that_it_did_not_ask_for()
    {
        var facts = new KeptFacts();
        using (var stop = new CancellationTokenSource())
        {
            EngineGatherer first = _shot.Server(_broker, "back");
            Task run = Task.Run(() => _shot.Check(first, cancel: stop.Token));
            Broker.Until(() => Queued(first) > 0 ? "" : null);
            await first.DisposeAsync(); // As if it had been killed: what was given out stays at the engine.
            await stop.CancelAsync();
            await Assert.ThrowsAnyAsync<OperationCanceledException>(() => run);
        }

        Work(_shot.WorkerHere(_broker, site: "back"));
        await using EngineGatherer second = _shot.Server(_broker, "back", facts);
        Broker.Until(() => second.Dropped == 0 ? null : "");
        Assert.Empty(facts.Times);
        Assert.Equal(_shot.Here, ShotOnDisk.Text(_shot.Check(second, facts)));
    }

    [Fact]
    public async Task Stopped_run_leaves_nothing_at_the_engine()
    {
        await using EngineGatherer server = _shot.Server(_broker, "stopped");
        using var stop = new CancellationTokenSource();
        var limits = ReadLimits.Default with { Memory = new MemoryGate(1L << 30) };
        using IDisposable taken = limits.Memory.Take(1L << 30, default);
        Work(_shot.WorkerHere(_broker, limits: limits));
        Task run = Task.Run(() => _shot.Check(server, cancel: stop.Token));
        Broker.Until(() => _shot.Said.FirstOrDefault(l => l.Contains("reading", StringComparison.Ordinal)));
        await stop.CancelAsync();
        await Assert.ThrowsAnyAsync<OperationCanceledException>(() => run);
        Broker.Until(() => _shot.Said.FirstOrDefault(l => l.Contains("stopped run", StringComparison.Ordinal)));
        Broker.Until(() => Queued(server) == 0 ? "" : null);
    }

    [Fact]
    public async Task Full_queue_of_work_holds_nothing_up()
    {
        await using EngineGatherer server = _shot.Server(_broker, "full", options: _broker.Options with { MostWork = 2 });
        Work(_shot.WorkerHere(_broker));
        Assert.Equal(_shot.Here, CheckOver(server));
    }

    [Fact]
    public async Task Results_wait_while_there_is_no_room_for_them()
    {
        EngineOptions narrow = _broker.Options with { MostFacts = 30_000 };
        using (var stop = new CancellationTokenSource())
        {
            EngineGatherer first = _shot.Server(_broker, "room", options: narrow);
            Task run = Task.Run(() => _shot.Check(first, cancel: stop.Token));
            Broker.Until(() => Queued(first) > 3 ? "" : null);
            await first.DisposeAsync();
            await stop.CancelAsync();
            await Assert.ThrowsAnyAsync<OperationCanceledException>(() => run);
        }

        Work(_shot.WorkerHere(_broker));
        Broker.Until(() => _shot.Said.FirstOrDefault(l => l.Contains("takes no results now", StringComparison.Ordinal)));
        await using EngineGatherer second = _shot.Server(_broker, "room", options: narrow);
        Assert.Equal(_shot.Here, CheckOver(second));
    }

    [Theory]
    [InlineData("empty")]
    [InlineData("another")]
    [InlineData("failing")]
    [InlineData("gone")]
    public async Task Worker_without_the_storage_makes_no_file_unreadable(string mount)
    {
        string folder = Directory.CreateTempSubdirectory("dune-crate-mount-").FullName;
        if (mount == "another")
        {
            // The folders are there, and other files.
            File.WriteAllText(
                Path.Combine(Directory.CreateDirectory(Path.Combine(folder, "KP010", "kelp")).FullName, "KP010_kelp.1001.exr"),
                "x"
            );
        }

        if (mount == "failing")
        {
            // Every file fails with "not a directory", as one of a dead mount does with "stale" or "not connected".
            File.WriteAllText(Path.Combine(folder, "KP010"), "x");
        }

        await using EngineGatherer server = _shot.Server(_broker, "mount");
        Worker worker = _shot.WorkerHere(_broker, folder);
        if (mount == "gone")
        {
            Directory.Delete(folder);
        }

        Work(worker);
        Assert.Equal(_shot.Here, CheckOver(server));
        if (mount != "gone")
        {
            Directory.Delete(folder, recursive: true);
        }
    }

    [Fact]
    public async Task Read_that_hangs_in_a_dead_mount_is_left_to_another()
    {
        await using EngineGatherer server = _shot.Server(_broker, "hanging");
        using var dead = new ManualResetEventSlim();
        var options = new WorkerOptions(
            _broker.Options,
            new Dictionary<string, string> { ["renders"] = _shot.Root },
            1,
            null,
            ReadLimits.Default with
            {
                SecondsPerFile = 1,
            }
        )
        {
            OverTime = TimeSpan.Zero,
        };
        int files = 0;
        bool isHanging = false;
        Work(
            new Worker(
                options,
                line =>
                {
                    // On the thread that reads, before it opens the file: like a call that the file system never answers.
                    if (line.StartsWith("reading", StringComparison.Ordinal) && ++files == 5)
                    {
                        Volatile.Write(ref isHanging, true);
                        dead.Wait();
                    }
                }
            )
        );
        var facts = new KeptFacts();
        Task<string> check = Task.Run(() => CheckOver(server, facts));
        Broker.Until(() => Volatile.Read(ref isHanging) ? "" : null);
        Work(_shot.WorkerHere(_broker));
        Assert.Equal(_shot.Here, await check);

        // What comes after all, when the mount is back, is counted by nobody.
        dead.Set();
        await _ending.CancelAsync();
        await Task.WhenAll(_workers);
        Assert.All(facts.Times, t => Assert.Equal(1, t.Value));
    }

    [Fact]
    public async Task File_that_changes_after_it_was_listed_counts_as_it_is_now()
    {
        const string Changed = "kelp/KP010_kelp.1006.exr";
        string path = Path.Combine(_shot.Root, "KP010", Changed),
            aside = Path.Combine(_shot.Root, "aside");
        File.Copy(path.Replace("1006", "1005", StringComparison.Ordinal), aside);
        await using EngineGatherer server = _shot.Server(_broker, "changed");
        Work(
            _shot.WorkerHere(
                _broker,
                tell: line =>
                {
                    if (line.EndsWith(Changed, StringComparison.Ordinal) && File.Exists(aside))
                    {
                        File.SetLastWriteTimeUtc(aside, DateTime.UtcNow);
                        File.Move(aside, path, overwrite: true);
                    }
                }
            )
        );
        var facts = new KeptFacts();
        string report = CheckOver(server, facts);
        Assert.False(File.Exists(aside));
        Assert.NotEqual(_shot.Here, report);
        Assert.Equal(ShotOnDisk.Text(_shot.Check(null)), report);
        Assert.Empty(facts.Mistaken);
    }

    [Fact]
    public async Task Nobody_who_reads_means_reading_here()
    {
        EngineOptions soon = _broker.Options with { Lonely = TimeSpan.FromMilliseconds(300) };
        await using EngineGatherer server = _shot.Server(_broker, "lonely", options: soon);
        Assert.Equal(_shot.Here, CheckOver(server));
        Assert.Contains(_shot.Said, l => l.Contains("no machine reads for renders", StringComparison.Ordinal));
        Assert.Equal(0, Queued(server));
    }

    [Fact]
    public async Task Two_runs_at_once_each_get_their_own()
    {
        using var other = new ShotOnDisk(3);
        await using EngineGatherer a = _shot.Server(_broker, "side-a"),
            b = other.Server(_broker, "side-b");
        Work(_shot.WorkerHere(_broker, site: "side-a"));
        Work(other.WorkerHere(_broker, site: "side-b"));
        Task<string> first = Task.Run(() => CheckOver(a)),
            same = Task.Run(() => CheckOver(a)),
            second = Task.Run(() => ShotOnDisk.Text(other.Check(b)));
        Assert.Equal(_shot.Here, await first);
        Assert.Equal(_shot.Here, await same);
        Assert.Equal(other.Here, await second);
    }

    private static long Queued(EngineGatherer server) =>
        server.ViewAsync(default).GetAwaiter().GetResult().Queues.Sum(q => q.Waiting + q.Taken);
}
