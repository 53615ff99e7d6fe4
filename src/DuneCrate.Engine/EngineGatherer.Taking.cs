using System.Collections.Immutable;
using System.Text.Json;
using DuneCrate.Engine.Messages;
using DuneCrate.Engine.Runs;
using DuneCrate.Foundation.Storage;
using DuneCrate.Foundation.Time;
using NATS.Client.Core;
using NATS.Client.JetStream;
using NATS.Client.JetStream.Models;

namespace DuneCrate.Engine;

/// <content>What comes from the engine: results, advice about work that was given up, news of workers.</content>
public sealed partial class EngineGatherer
{
    private const int MostAtOnce = 15,
        MostNews = 1 << 16,
        MostWorkers = 1_000,
        MostName = 100;
    private static readonly TimeSpan Silence = TimeSpan.FromSeconds(10),
        Forgotten = TimeSpan.FromMinutes(10),
        ShortWait = TimeSpan.FromMilliseconds(500);

    async Task<MachinesView?> IMachines.ViewAsync(CancellationToken cancel) => await ViewAsync(cancel);

    /// <summary>What there is to see.</summary>
    public async Task<MachinesView> ViewAsync(CancellationToken cancel)
    {
        EngineRun[] runs;
        lock (_lock)
        {
            runs = [.. _runs];
        }

        var queues = ImmutableArray.CreateBuilder<QueueView>();
        string? problem = _problem;
        try
        {
            if (_engine is not null && !IsOpen)
            {
                problem = Away;
            }
            else if (_engine is { } engine)
            {
                foreach (string root in _roots.Keys)
                {
                    foreach (WorkKind kind in Enum.GetValues<WorkKind>())
                    {
                        INatsJSConsumer consumer = await engine
                            .GetConsumerAsync(Names.Work, EngineNames.Consumer(kind, root), cancel)
                            .AsTask()
                            .WaitAsync(_options.Answer, cancel);
                        queues.Add(new QueueView(kind, root, (long)consumer.Info.NumPending, consumer.Info.NumAckPending));
                    }
                }
            }
        }
        catch (Exception e) when (e is NatsException or TimeoutException)
        {
            problem = Away;
        }

        return new MachinesView(
            _options.Shown,
            Names.Site,
            problem,
            [
                .. _workers
                    .Values.Select(w => (w.News, Silent: Clock.GetElapsedTime(w.Heard)))
                    .Where(w => w.Silent < Forgotten)
                    .OrderBy(w => w.News.Worker, StringComparer.Ordinal),
            ],
            [
                .. runs.Select(r => new RunView(
                    r.Id,
                    $"{r.Root}: {r.Folder}",
                    r.Total - r.Open,
                    r.Total,
                    r.Pieces.Waiting,
                    r.Pieces.Out,
                    r.Workers
                )),
            ],
            queues.ToImmutable(),
            [.. _aside.Values.OrderBy(a => a.At)]
        );
    }

    private string Away => $"no engine answers at {_options.Shown}";

    /// <inheritdoc/>
    public int MachinesFor(StoragePath folder) => Place(folder) is var (root, _) ? _workers.Values.Count(w => Reads(w, root)) : 0;

    /// <inheritdoc/>
    public void TryAgain()
    {
        lock (_lock)
        {
            _givenUp.Clear();
        }

        _aside.Clear();
    }

    private bool HasReader(string root) => _workers.Values.Any(w => Reads(w, root));

    private bool Reads((WorkerNews News, long Heard) worker, string root) =>
        !worker.News.IsLeaving
        && Clock.GetElapsedTime(worker.Heard) < Silence
        && worker.News.Roots.Contains(root, StringComparer.OrdinalIgnoreCase);

    /// <summary>Whether a piece made its readers fail, and nothing of it was written since.</summary>
    private bool IsGivenUp(EngineRun run, Piece piece)
    {
        lock (_lock)
        {
            return _givenUp.TryGetValue((run.Id, piece.Id), out DateTime at) && run.Changed(piece) < at;
        }
    }

    private void GiveUp(EngineRun run, string piece)
    {
        if (run.GiveUp(piece) is { } name)
        {
            _aside[name] = new AsideFile(run.Id, name, EngineStreams.Tries(WorkKind.Single), Clock.UtcNow);
            _tell($"{name} made its reader fail again and again; it is set aside.");
        }
    }

    private async Task ListenAsync(NatsConnection connection)
    {
        while (!_ending.IsCancellationRequested)
        {
            try
            {
                await foreach (
                    NatsMsg<byte[]> message in connection.SubscribeAsync<byte[]>(Names.AllProgress, cancellationToken: _ending.Token)
                )
                {
                    try
                    {
                        WorkerNews news = MessagePacking.Unpack<WorkerNews>(message.Data, MostNews);
                        if (news.IsPossible && (_workers.Count < MostWorkers || _workers.ContainsKey(news.Worker)))
                        {
                            _workers[news.Worker] = (news, Clock.GetTimestamp());
                        }

                        foreach (
                            (string name, (WorkerNews _, long _)) in _workers.Where(w => Clock.GetElapsedTime(w.Value.Heard) > Forgotten)
                        )
                        {
                            _workers.TryRemove(name, out _);
                        }
                    }
                    catch (FormatException)
                    {
                        // Whoever sends such news is no worker.
                    }
                }
            }
            catch (Exception e) when (e is NatsException or OperationCanceledException)
            {
                await PauseAsync(ShortWait);
            }
        }
    }

    /// <summary>Takes the messages of a stream, several at once where there are, for as long as this process lives.</summary>
    private async Task TakeAsync(NatsJSContext engine, string stream, Func<NatsJSContext, IReadOnlyList<byte[]>, Task> take)
    {
        while (!_ending.IsCancellationRequested)
        {
            try
            {
                INatsJSConsumer consumer = await engine.GetConsumerAsync(stream, EngineStreams.Server, _ending.Token);
                while (!_ending.IsCancellationRequested)
                {
                    var wait = new NatsJSNextOpts { Expires = TimeSpan.FromSeconds(5) };
                    if (await consumer.NextAsync<byte[]>(opts: wait, cancellationToken: _ending.Token) is not { } first)
                    {
                        continue;
                    }

                    // What is there already is taken along, so that it is kept in one go.
                    var messages = new List<INatsJSMsg<byte[]>> { first };
                    var more = new NatsJSFetchOpts { MaxMsgs = MostAtOnce };
                    await foreach (INatsJSMsg<byte[]> message in consumer.FetchNoWaitAsync<byte[]>(more, cancellationToken: _ending.Token))
                    {
                        messages.Add(message);
                    }

                    await take(engine, [.. messages.Select(m => m.Data ?? [])]);
                    foreach (INatsJSMsg<byte[]> message in messages)
                    {
                        await message.AckAsync(cancellationToken: _ending.Token);
                    }
                }
            }
            catch (Exception e) when (e is not OutOfMemoryException)
            {
                if (e is not (NatsException or OperationCanceledException or TimeoutException))
                {
                    // A full disk under the cache, for one: the message is not acknowledged and comes again.
                    _tell("results are put off: the database cannot be written, or its disk is full");
                }

                await PauseAsync(ShortWait);
                if (!_ending.IsCancellationRequested)
                {
                    // The stream may be gone with the engine's folder.
                    await Quietly.DoAsync(
                        () => EngineStreams.EnsureAsync(engine, Names, _roots.Keys, _options, _ending.Token),
                        _options.Publish,
                        _ending.Token
                    );
                }
            }
        }
    }

    private TimeProvider Clock => _options.Clock;

    /// <summary>Waits before the next try, unless this ends meanwhile.</summary>
    private Task PauseAsync(TimeSpan wait) => Quietly.DoAsync(() => Task.Delay(wait, Clock, _ending.Token));

    private Task TakeFactsAsync(NatsJSContext engine, IReadOnlyList<byte[]> messages)
    {
        Parallel.ForEach(messages, Take);
        _cache.Flush();
        return Task.CompletedTask;
    }

    /// <summary>
    /// Takes one result: by the run that waits for it, once, or by nobody. Whatever is wrong with it, it is done with and does not come
    /// again.
    /// </summary>
    private void Take(byte[] data)
    {
        try
        {
            FactsMessage found = MessagePacking.Unpack<FactsMessage>(data);
            EngineRun[] runs;
            lock (_lock)
            {
                runs = [.. _runs.Where(r => r.Id == found.Run)];
            }

            string?[] problems = [.. runs.Select(r => r.Deliver(found))];
            if (Array.Find(problems, p => p is not null) is { } problem)
            {
                Drop($"of {found.Worker[..Math.Min(found.Worker.Length, MostName)]}: {problem}");
            }
            else if (runs.Length == 0)
            {
                Interlocked.Increment(ref _dropped);
            }
        }
        catch (FormatException e)
        {
            Drop($": {e.Message}");
        }
        catch (Exception e) when (e is not (OutOfMemoryException or IOException or System.Data.Common.DbException))
        {
            Drop($": it made the server fail ({e.GetType().Name})");
        }
    }

    private void Drop(string why)
    {
        Interlocked.Increment(ref _dropped);
        _tell($"a result was dropped{(why[0] == ':' ? "" : " ")}{why}");
    }

    /// <summary>Results that were acknowledged and taken by nobody.</summary>
    public long Dropped => Interlocked.Read(ref _dropped);

    private async Task TakeAdviceAsync(NatsJSContext engine, IReadOnlyList<byte[]> messages)
    {
        foreach (byte[] message in messages)
        {
            await TakeAdviceAsync(engine, message);
        }
    }

    /// <summary>Work was given out as often as it may be: the message is taken out, the piece split or its file set aside.</summary>
    private async Task TakeAdviceAsync(NatsJSContext engine, byte[] data)
    {
        ulong sequence;
        string[] steps;
        try
        {
            using JsonDocument advice = JsonDocument.Parse(data);
            sequence = advice.RootElement.GetProperty("stream_seq").GetUInt64();
            INatsJSStream stream = await engine.GetStreamAsync(Names.Work, cancellationToken: _ending.Token);
            StreamMsgGetResponse stored = await stream.GetAsync(new StreamMsgGetRequest { Seq = sequence }, _ending.Token);
            steps = stored.Message.Subject.Split('.');
            await stream.DeleteMessageAsync(new StreamMsgDeleteRequest { Seq = sequence }, _ending.Token);
        }
        catch (Exception e)
            when (e is NatsJSApiException or JsonException or KeyNotFoundException or InvalidOperationException or FormatException)
        {
            return; // It was done at the last moment, or taken out with its run.
        }

        (string runId, string piece) = (steps[^2], steps[^1]);
        EngineRun[] runs;
        lock (_lock)
        {
            runs = [.. _runs.Where(r => r.Id == runId)];
            _givenUp[(runId, piece)] = Clock.UtcNow;
        }

        foreach (EngineRun run in runs)
        {
            GiveUp(run, piece);
        }
    }
}
