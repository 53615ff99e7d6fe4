using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Text;
using DuneCrate.Engine.Messages;
using NATS.Client.Core;
using NATS.Client.JetStream;
using NATS.Client.JetStream.Models;

namespace DuneCrate.Engine.Workers;

/// <summary>
/// Reads files for servers and commands that use the same engine: takes a piece of work, reads it, hands in what it found, sees that the
/// engine has it, and only then lets go of the work. Ends after the pieces that it has.
/// </summary>
public sealed class Worker
{
    private static readonly TimeSpan NewsPace = TimeSpan.FromSeconds(2),
        SitesPace = TimeSpan.FromSeconds(5),
        Look = TimeSpan.FromSeconds(5),
        ShortWait = TimeSpan.FromSeconds(1),
        Minute = TimeSpan.FromMinutes(1),
        Patience = TimeSpan.FromMinutes(10);

    private readonly WorkerOptions _options;
    private readonly Action<string> _tell;
    private readonly WorkReader _reader;
    private readonly TimeProvider _clock;
    private readonly Slot[] _slots;
    private readonly ConcurrentQueue<(long At, int Files)> _lately = new();
    private readonly SemaphoreSlim _isNews = new(0);
    private volatile ImmutableList<WorkSource> _sources = [];
    private TaskCompletionSource _bell = new(TaskCreationOptions.RunContinuationsAsynchronously);
    private long _files;

    /// <summary>A worker that has not begun.</summary>
    /// <param name="options">What it reads.</param>
    /// <param name="tell">Told what it does.</param>
    /// <exception cref="DirectoryNotFoundException">A root is not there.</exception>
    public Worker(WorkerOptions options, Action<string> tell)
    {
        (_options, _tell, _clock) = (options, tell, options.Engine.Clock);
        _reader = new WorkReader(options.Roots, options.Limits);
        _slots = [.. Enumerable.Range(0, options.Threads + 1).Select(_ => new Slot(_clock))];
        Name = $"{EngineNames.Hash(Environment.MachineName, Guid.NewGuid().ToString())[..6]}-{Environment.ProcessId}";
    }

    /// <summary>Its name at the engine.</summary>
    public string Name { get; }

    /// <summary>Works until it is asked to end, then ends what it has.</summary>
    /// <exception cref="EngineException">The engine cannot be used at the start.</exception>
    public async Task RunAsync(CancellationToken ending)
    {
        await using NatsConnection connection = await _options.Engine.ConnectAsync($"dune-crate worker {Name}", _options.Site, ending);
        var engine = new NatsJSContext(connection);
        string roots = string.Join(", ", _reader.Roots);
        _tell($"worker {Name} reads {roots} with {_options.Threads} threads for {_options.Engine.Shown}");
        using var done = new CancellationTokenSource();
        Task beside = Task.WhenAll(
            AgainAsync(() => ListenAsync(connection, done.Token), done.Token),
            AgainAsync(() => FindSitesAsync(connection, engine, done.Token), done.Token),
            AgainAsync(() => SendNewsAsync(connection, ending, done.Token), done.Token)
        );

        // The first slot is kept for first frames, so that one never waits behind a whole folder.
        await Task.WhenAll(_slots.Select((slot, i) => AgainAsync(() => WorkAsync(engine, slot, isFirst: i == 0, ending), ending)));
        _tell("asked to end: what was begun is done");
        await NewsAsync(connection, isLeaving: true);
        await done.CancelAsync();
        await beside;
    }

    /// <summary>Takes pieces one after the other; while there is none it waits for the bell, and now and then looks all the same.</summary>
    private async Task WorkAsync(NatsJSContext engine, Slot slot, bool isFirst, CancellationToken ending)
    {
        while (!ending.IsCancellationRequested)
        {
            Task bell = Volatile.Read(ref _bell).Task;
            if (await NextAsync(_sources.Where(s => s.Kind == WorkKind.First == isFirst), ending) is var (source, message))
            {
                await DoAsync(engine, slot, source, message);
            }
            else
            {
                await Task.WhenAny(bell, Task.Delay(Look, _clock, ending));
            }
        }
    }

    /// <summary>The next piece of several queues, or null. Nothing is waited for there: what is sent to one who has left is lost until
    /// the engine gives it out again.</summary>
    private static async Task<(WorkSource Source, INatsJSMsg<byte[]> Message)?> NextAsync(
        IEnumerable<WorkSource> sources,
        CancellationToken ending
    )
    {
        foreach (WorkSource source in sources.OrderBy(s => s.Kind))
        {
            var one = new NatsJSFetchOpts { MaxMsgs = 1 };
            await foreach (INatsJSMsg<byte[]> message in source.Consumer.FetchNoWaitAsync<byte[]>(one, cancellationToken: ending))
            {
                return (source, message);
            }
        }

        return null;
    }

    private async Task DoAsync(NatsJSContext engine, Slot slot, WorkSource source, INatsJSMsg<byte[]> message)
    {
        WorkMessage work;
        try
        {
            work = MessagePacking.Unpack<WorkMessage>(message.Data);
        }
        catch (FormatException e)
        {
            _tell($"a piece of work was passed over: {e.Message}");
            await message.AckTerminateAsync();
            return;
        }

        CancellationToken stop = slot.Begin(work);
        using var pulsing = new CancellationTokenSource();
        Task pulse = PulseAsync(message, slot, source.Consumer.Info.Config.AckWait / 3, pulsing.Token);
        try
        {
            FactsMessage found = await Task.Factory.StartNew(
                () =>
                    _reader.Read(
                        work,
                        Name,
                        what =>
                        {
                            slot.Read(what);
                            _tell($"reading {what}");
                        },
                        stop
                    ),
                CancellationToken.None,
                TaskCreationOptions.LongRunning,
                TaskScheduler.Default
            );
            Count(work.Files.Length + work.Sums.Length);
            if (found.Refused is not null)
            {
                _tell($"refused: {found.Refused}");
            }

            if (await HandInAsync(engine, new EngineNames(source.Site), work, found))
            {
                await message.AckAsync(new AckOpts { DoubleAck = true });
            }
        }
        catch (OperationCanceledException) when (stop.IsCancellationRequested)
        {
            _tell($"stopped run {work.Run}");
            await Quietly.DoAsync(() => message.AckTerminateAsync().AsTask());
        }
        finally
        {
            slot.End();
            await pulsing.CancelAsync();
            await Quietly.DoAsync(() => pulse);
        }
    }

    /// <summary>
    /// Gives what was found to the engine, however long it has no room. What is larger than a message may be is left to the server.
    /// </summary>
    /// <returns>Whether the engine has it; if not, the work is given out again.</returns>
    private async Task<bool> HandInAsync(NatsJSContext engine, EngineNames names, WorkMessage work, FactsMessage found)
    {
        byte[] data;
        try
        {
            data = MessagePacking.Pack(found);
        }
        catch (InsufficientMemoryException e)
        {
            data = MessagePacking.Pack(FactsMessage.Refusing(work, Name, e.Message));
        }

        if (engine.Connection.ServerInfo is { MaxPayload: > 0 and var most } && data.Length > most)
        {
            data = MessagePacking.Pack(FactsMessage.Refusing(work, Name, $"the result has {data.Length} bytes, the engine takes {most}"));
        }

        string subject = names.FactsOf(work.Run, work.Piece, work.Token);
        bool isTold = false;
        for (long begun = _clock.GetTimestamp(); _clock.GetElapsedTime(begun) < Patience; )
        {
            try
            {
                PubAckResponse answer = await engine.PublishAsync(subject, data, opts: EngineStreams.OnlyOne);
                if (answer.Error is null || EngineStreams.IsTaken(answer.Error))
                {
                    return true;
                }
            }
            catch (NatsJSPublishNoResponseException)
            {
                // The stream may be gone with its site: nobody wants this any more.
                return false;
            }
            catch (Exception e) when (e is NatsException or TimeoutException)
            {
                // The engine is away for a moment, or for good.
            }

            if (!isTold)
            {
                isTold = true;
                _tell("the engine takes no results now; trying again");
            }

            await Task.Delay(ShortWait, _clock);
        }

        return false;
    }

    /// <summary>Gives a sign for as long as the file that is read has not taken too long.</summary>
    private async Task PulseAsync(INatsJSMsg<byte[]> message, Slot slot, TimeSpan pace, CancellationToken end)
    {
        TimeSpan most = TimeSpan.FromSeconds(_options.Limits.SecondsPerFile) + _options.OverTime;
        while (!end.IsCancellationRequested && slot.IsAlive(most))
        {
            await Task.Delay(pace, _clock, end);
            await Quietly.DoAsync(() => message.AckProgressAsync(cancellationToken: end).AsTask());
        }
    }

    /// <summary>Hears which runs have stopped and that there is news of work.</summary>
    private async Task ListenAsync(NatsConnection connection, CancellationToken end)
    {
        string subject = _options.Site is { } site ? new EngineNames(site).Stop : EngineNames.AnyStop;
        await foreach (NatsMsg<byte[]> message in connection.SubscribeAsync<byte[]>(subject, cancellationToken: end))
        {
            switch (Encoding.UTF8.GetString(message.Data ?? []))
            {
                case EngineNames.NewRun:
                    _isNews.Release();
                    break;
                case EngineNames.NewWork:
                    Ring();
                    break;
                case var run:
                    foreach (Slot slot in _slots)
                    {
                        slot.Stop(run);
                    }

                    break;
            }
        }
    }

    /// <summary>Finds the queues of every site for the roots that are mounted here, again and again: sites come and go.</summary>
    private async Task FindSitesAsync(NatsConnection connection, NatsJSContext engine, CancellationToken end)
    {
        while (!end.IsCancellationRequested)
        {
            var sites = new List<string>();
            if (_options.Site is { } only)
            {
                sites.Add(only);
            }
            else
            {
                await foreach (string stream in engine.ListStreamNamesAsync(cancellationToken: end))
                {
                    if (EngineNames.SiteOf(stream) is { } site)
                    {
                        sites.Add(site);
                    }
                }
            }

            var found = ImmutableList.CreateBuilder<WorkSource>();
            foreach (string site in sites)
            {
                var names = new EngineNames(site);
                foreach (string root in _reader.Roots)
                {
                    foreach (WorkKind kind in Enum.GetValues<WorkKind>())
                    {
                        try
                        {
                            found.Add(
                                new WorkSource(site, kind, await engine.GetConsumerAsync(names.Work, EngineNames.Consumer(kind, root), end))
                            );
                        }
                        catch (NatsJSApiException)
                        {
                            // The site has no such root.
                        }
                    }
                }
            }

            bool isOther = !found.Select(s => s.Site).ToHashSet().SetEquals(_sources.Select(s => s.Site));
            _sources = found.ToImmutable();
            if (isOther)
            {
                _tell($"sites: {(found.Count == 0 ? "none" : string.Join(", ", found.Select(s => s.Site).Distinct()))}");
                await NewsAsync(connection, isLeaving: false);
            }

            Ring();
            await _isNews.WaitAsync(SitesPace, end);
            while (_isNews.Wait(0, end))
            {
                // Several runs that begin at once are found at once.
            }
        }
    }

    private async Task SendNewsAsync(NatsConnection connection, CancellationToken ending, CancellationToken end)
    {
        while (!end.IsCancellationRequested)
        {
            await NewsAsync(connection, ending.IsCancellationRequested);
            await Task.Delay(NewsPace, _clock, end);
        }
    }

    private async Task NewsAsync(NatsConnection connection, bool isLeaving)
    {
        while (_lately.TryPeek(out (long At, int Files) oldest) && _clock.GetElapsedTime(oldest.At) > Minute)
        {
            _lately.TryDequeue(out _);
        }

        byte[] news = MessagePacking.Pack(
            new WorkerNews(
                Name,
                Environment.MachineName,
                _reader.Roots,
                _options.Threads,
                [.. _slots.Select(s => s.Reading).OfType<string>()],
                Interlocked.Read(ref _files),
                _lately.Sum(l => l.Files),
                isLeaving
            )
        );
        foreach (string site in _sources.Select(s => s.Site).Distinct())
        {
            await Quietly.DoAsync(() => connection.PublishAsync(new EngineNames(site).Progress(Name), news).AsTask());
        }
    }

    private void Ring() => Interlocked.Exchange(ref _bell, new(TaskCreationOptions.RunContinuationsAsynchronously)).TrySetResult();

    private void Count(int files)
    {
        Interlocked.Add(ref _files, files);
        _lately.Enqueue((_clock.GetTimestamp(), files));
    }

    /// <summary>Does something for as long as it is wanted, whatever becomes of the engine meanwhile.</summary>
    private async Task AgainAsync(Func<Task> act, CancellationToken end)
    {
        while (!end.IsCancellationRequested)
        {
            try
            {
                await act();
            }
            catch (Exception e) when (e is NatsException or TimeoutException or IOException or OperationCanceledException)
            {
                await Quietly.DoAsync(() => Task.Delay(ShortWait / 4, _clock, end));
            }
        }
    }
}
