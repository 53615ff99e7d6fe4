using System.Collections.Concurrent;
using System.Text;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Intake.Gathering;
using DuneCrate.Checking.Rebuild;
using DuneCrate.Engine.Messages;
using DuneCrate.Engine.Runs;
using DuneCrate.Foundation.Storage;
using DuneCrate.Foundation.Threading;
using NATS.Client.Core;
using NATS.Client.JetStream;
using NATS.Client.JetStream.Models;

namespace DuneCrate.Engine;

/// <summary>
/// Has files read by the workers of an engine. The listing of the folder and the cache are the truth, the engine may be thrown away: what
/// it lost is given out anew, and what no worker can do is done here. Headers are read here always, since asking for one costs more than
/// reading it. Safe for several runs at once.
/// </summary>
public sealed partial class EngineGatherer : IFactsGatherer, IMachines, IAsyncDisposable
{
    private const int LeastWindow = 4,
        WindowPerReader = 2;
    private static readonly TimeSpan Tick = TimeSpan.FromSeconds(1),
        LeftBehind = TimeSpan.FromDays(1);

    private readonly EngineOptions _options;
    private readonly IReadOnlyDictionary<string, string> _roots;
    private readonly IFactsCache _cache;
    private readonly Action<string> _tell;
    private readonly CancellationTokenSource _ending = new();
    private readonly Lock _lock = new();
    private readonly EnginePresence _presence;
    private readonly List<EngineRun> _runs = [];
    private readonly Dictionary<(string Run, string Piece), DateTime> _givenUp = [];
    private readonly ConcurrentDictionary<string, (WorkerNews News, long Heard)> _workers = [];
    private readonly ConcurrentDictionary<string, AsideFile> _aside = [];
    private NatsConnection? _connection;
    private volatile NatsJSContext? _engine;
    private volatile string? _problem = "the engine has not answered yet";
    private Task _work = Task.CompletedTask;
    private long _dropped;

    /// <summary>A gatherer that is not connected yet; <see cref="Start"/> or <see cref="ConnectAsync"/> does.</summary>
    /// <param name="options">The engine.</param>
    /// <param name="names">The site.</param>
    /// <param name="roots">Roots by name, as full paths with links followed.</param>
    /// <param name="cache">Written out after results were taken.</param>
    /// <param name="tell">Told what people should know.</param>
    public EngineGatherer(
        EngineOptions options,
        EngineNames names,
        IReadOnlyDictionary<string, string> roots,
        IFactsCache cache,
        Action<string> tell
    ) => (_options, Names, _roots, _cache, _tell, _presence) = (options, names, roots, cache, tell, new EnginePresence(options.Clock));

    /// <summary>The site.</summary>
    public EngineNames Names { get; }

    /// <summary>Connects, or says why not.</summary>
    /// <exception cref="EngineException">The engine cannot be used.</exception>
    public async Task ConnectAsync(CancellationToken cancel)
    {
        NatsConnection connection = await _options.ConnectAsync($"dune-crate {Names.Site}", Names.Site, cancel);
        try
        {
            var engine = new NatsJSContext(connection);
            if (EngineNames.IsPassing(Names.Site))
            {
                await EngineStreams.SweepAsync(engine, Clock, LeftBehind, cancel);
            }

            await EngineStreams.EnsureAsync(engine, Names, _roots.Keys, _options, cancel);
            _presence.Watch(connection);
            (_connection, _engine, _problem) = (connection, engine, null);
            _work = Task.WhenAll(
                Task.Run(() => ListenAsync(connection), CancellationToken.None),
                Task.Run(() => TakeAsync(engine, Names.Facts, TakeFactsAsync), CancellationToken.None),
                Task.Run(() => TakeAsync(engine, Names.Advice, TakeAdviceAsync), CancellationToken.None)
            );
        }
        catch (Exception e) when (e is NatsException or EngineException)
        {
            await Quietly.DisposeAsync(connection);
            throw e as EngineException ?? new EngineException($"the engine at {_options.Shown} refuses to make this site's queues.", e);
        }
    }

    /// <summary>Connects in the background, as soon as there is an engine; until then everything is read here.</summary>
    public void Start() =>
        _work = Task.Run(async () =>
        {
            while (!_ending.IsCancellationRequested)
            {
                try
                {
                    await ConnectAsync(_ending.Token);
                    return;
                }
                catch (EngineException e)
                {
                    Say(e.Message);
                    _problem = e.Message;
                }
                catch (OperationCanceledException)
                {
                    return;
                }

                await PauseAsync(_options.Answer);
            }
        });

    /// <inheritdoc/>
    public void Gather(FactsOrder order, Action<int, FileFacts> got, CancellationToken cancel)
    {
        if (order.Depth == FactsDepth.Header || order.Wanted.IsEmpty || _engine is null || Place(order.Folder) is not var (root, folder))
        {
            GatheringHere.Shared.Gather(order, got, cancel);
            return;
        }

        Drive(FactsRun.Of(order, root, folder, got), cancel);
    }

    /// <inheritdoc/>
    public void Measure(SumsOrder order, Action<int, RebuildFacts?> got, CancellationToken cancel)
    {
        if (order.Sums.IsEmpty || _engine is null || Place(order.Folder) is not var (root, folder))
        {
            GatheringHere.Shared.Measure(order, got, cancel);
            return;
        }

        Drive(SumsRun.Of(order, root, folder, got), cancel);
    }

    /// <summary>Whether a folder lies in one of the roots, so that workers can find it.</summary>
    public bool Has(StoragePath folder) => Place(folder) is not null;

    /// <summary>The root that a folder lies in, and the folder below it; null when it lies in none.</summary>
    private (string Root, string Folder)? Place(StoragePath folder)
    {
        string path = folder.FullPath.TrimEnd('/') + "/";
        foreach ((string name, string top) in _roots.OrderByDescending(r => r.Value.Length))
        {
            if (path.StartsWith(top.TrimEnd('/') + "/", StringComparison.Ordinal))
            {
                return (name, path[(top.TrimEnd('/').Length + 1)..].TrimEnd('/'));
            }
        }

        return null;
    }

    /// <remarks>
    /// What is read here is read on the threads of whoever asks; what waits for the engine does so on others, so that no thread that the
    /// engine's answers need is taken by somebody who waits for them.
    /// </remarks>
    private void Drive(EngineRun run, CancellationToken cancel)
    {
        lock (_lock)
        {
            // Two runs of the same order share pieces, and so their tokens.
            run.Key = _runs.Find(r => r.Id == run.Id)?.Key ?? run.Key;
            _runs.Add(run);
        }

        foreach (AsideFile old in _aside.Values.Where(a => a.Run == run.Id))
        {
            _aside.TryRemove(old.Name, out _);
        }

        var asking = new RunAsking(Clock);
        try
        {
            while (run.Open > 0)
            {
                cancel.ThrowIfCancellationRequested();
                Parallel.ForEach(
                    run.TakeHere(),
                    GatheringHere.Side(cancel),
                    place =>
                    {
                        run.Read(place, cancel);
                        run.Done(place);
                    }
                );
                if (run.Open > 0)
                {
                    WorkThread.WaitFor(Task.Run(() => StepAsync(run, asking, cancel), CancellationToken.None));
                }
            }
        }
        catch (OperationCanceledException)
        {
            // Nobody who stops a run waits for the engine.
            _ = Task.Run(() => StopAsync(run), CancellationToken.None);
            throw;
        }
        finally
        {
            lock (_lock)
            {
                _runs.Remove(run);
            }
        }
    }

    /// <summary>Gives out what may be given out, looks after what is out, and waits for news.</summary>
    private async Task StepAsync(EngineRun run, RunAsking asking, CancellationToken cancel)
    {
        if (!asking.IsBegun)
        {
            asking.IsBegun = true;
            await BeginAsync(run, cancel);
        }

        await GiveOutAsync(run, asking, cancel);
        if (IsAway(asking))
        {
            ReadRestHere(run, asking, $"the engine at {_options.Shown} does not answer");
            return;
        }

        if (HasReader(run.Root))
        {
            asking.Hear();
        }
        else if (!asking.IsHere && asking.Alone > _options.Lonely)
        {
            ReadRestHere(run, asking, $"no machine reads for {run.Root}");
            return;
        }

        if (asking.SinceAsked > _options.Reconcile)
        {
            asking.Ask();
            await AskAgainAsync(run, asking, cancel);
        }

        await run.News.WaitAsync(Tick, cancel);
    }

    /// <summary>Everything that is left of a run is read in this process; what the engine still returns of it is dropped.</summary>
    private void ReadRestHere(EngineRun run, RunAsking asking, string why)
    {
        asking.IsHere = true;
        _tell($"{why}; what is left of {run.Folder} is read here.");
        run.ReadRestHere();
        _ = Task.Run(() => StopAsync(run), CancellationToken.None);
    }

    /// <summary>
    /// Takes out what an earlier life of this run left at the engine: its tokens hold no more. Not where the same is on its way already.
    /// </summary>
    private async Task BeginAsync(EngineRun run, CancellationToken cancel)
    {
        bool isAlone;
        lock (_lock)
        {
            isAlone = _runs.TrueForAll(r => r == run || r.Id != run.Id);
        }

        if (isAlone && IsOpen)
        {
            await PurgeAsync(run, cancel);
        }

        await CallAsync(EngineNames.NewRun, cancel);
    }

    private bool IsOpen => _presence.IsOpen;

    private bool IsAway(RunAsking asking) => _presence.LostFor >= _options.Away || asking.SilentFor >= _options.Away;

    /// <summary>Gives out as much as readers can use, so that runs that go on at once share them.</summary>
    private async Task GiveOutAsync(EngineRun run, RunAsking asking, CancellationToken cancel)
    {
        int readers = _workers.Values.Where(w => Reads(w, run.Root)).Sum(w => w.News.Threads),
            window = Math.Max(LeastWindow, WindowPerReader * readers);
        bool isOut = false;
        while (run.Next(window) is { } piece)
        {
            if (IsGivenUp(run, piece))
            {
                GiveUp(run, piece.Id);
            }
            else if (!await PublishAsync(run, piece, asking, cancel))
            {
                run.PutBack(piece);
                break;
            }
            else
            {
                isOut = true;
            }
        }

        if (isOut)
        {
            await CallAsync(EngineNames.NewWork, cancel);
        }
    }

    /// <summary>
    /// Gives out again what is out: the engine refuses what it still has, and what it lost is there again. Its streams too.
    /// </summary>
    private async Task AskAgainAsync(EngineRun run, RunAsking asking, CancellationToken cancel)
    {
        if (_engine is { } engine && IsOpen)
        {
            await Quietly.DoAsync(() => EngineStreams.EnsureAsync(engine, Names, _roots.Keys, _options, cancel), _options.Publish, cancel);
        }

        foreach (Piece piece in run.OutNow())
        {
            if (!await PublishAsync(run, piece, asking, cancel))
            {
                break;
            }
        }

        await CallAsync(EngineNames.NewRun, cancel);
    }

    /// <returns>Whether the engine has it now.</returns>
    private async Task<bool> PublishAsync(EngineRun run, Piece piece, RunAsking asking, CancellationToken cancel)
    {
        long begun = Clock.GetTimestamp();
        if (!IsOpen)
        {
            return false;
        }

        try
        {
            byte[] message = MessagePacking.Pack(run.Message(piece));
            string subject = Names.WorkOf(piece.Kind, run.Root, run.Id, piece.Id);
            PubAckResponse answer = await _engine!
                .PublishAsync(subject, message, opts: EngineStreams.OnlyOne, cancellationToken: cancel)
                .AsTask()
                .WaitAsync(_options.Publish, cancel);
            asking.Note(hasAnswered: true, begun);
            return answer.Error is null || EngineStreams.IsTaken(answer.Error);
        }
        catch (Exception e) when (e is NatsException or TimeoutException or IOException or ObjectDisposedException)
        {
            asking.Note(hasAnswered: false, begun);
            return false;
        }
    }

    /// <summary>Tells workers that a run has stopped, or that there is news of work.</summary>
    private Task CallAsync(string run, CancellationToken cancel = default) =>
        _connection is { } connection && IsOpen
            ? Quietly.DoAsync(() => connection.PublishAsync(Names.Stop, Encoding.UTF8.GetBytes(run)).AsTask(), _options.Call, cancel)
            : Task.CompletedTask;

    private async Task StopAsync(EngineRun run)
    {
        await CallAsync(run.Id);
        await PurgeAsync(run, default);
    }

    private Task PurgeAsync(EngineRun run, CancellationToken cancel)
    {
        var purge = new StreamPurgeRequest { Filter = Names.WorkOf(run.Id) };
        return _engine is { } engine && IsOpen
            ? Quietly.DoAsync(() => engine.PurgeStreamAsync(Names.Work, purge, cancel).AsTask(), _options.Call, cancel)
            : Task.CompletedTask;
    }

    private void Say(string line)
    {
        if (_problem != line)
        {
            _tell(line);
        }
    }

    /// <summary>Ends; results that have not come are asked for again next time. Can be done twice: it serves under two names.</summary>
    public async ValueTask DisposeAsync()
    {
        await _ending.CancelAsync();
        await Quietly.DoAsync(() => _work, _options.Publish);
        if (_connection is { } connection)
        {
            if (EngineNames.IsPassing(Names.Site) && _engine is { } engine)
            {
                await Quietly.DoAsync(() => EngineStreams.DeleteAsync(engine, Names, CancellationToken.None), _options.Publish);
            }

            await Quietly.DisposeAsync(connection);
        }
    }
}
