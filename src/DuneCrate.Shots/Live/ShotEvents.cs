using System.Collections.Concurrent;
using System.Net.ServerSentEvents;
using System.Runtime.CompilerServices;
using System.Text.Json;
using System.Threading.Channels;
using DuneCrate.Foundation.Documents;

namespace DuneCrate.Shots.Live;

/// <summary>
/// Tells the open pages of a shot what happened, as server-sent events. Pages that listen slowly miss the oldest ones; each event says
/// enough to catch up.
/// </summary>
public sealed class ShotEvents
{
    private const int MostWaiting = 64;
    private static readonly TimeSpan Pulse = TimeSpan.FromSeconds(15);

    /// <summary>Stands for every shot: the yard listens to all of them.</summary>
    public const int EveryShot = 0;

    private readonly ConcurrentDictionary<(int Shot, Guid Listener), Listener> _listeners = new();

    /// <summary>An open page.</summary>
    /// <param name="Events">What it has not read yet.</param>
    /// <param name="SeesArrivals">Whether it shows files as they land, so that the folder is watched for it.</param>
    private sealed record Listener(Channel<SseItem<string>> Events, bool SeesArrivals);

    /// <summary>Tells every open page of a shot.</summary>
    /// <param name="shotId">The shot.</param>
    /// <param name="kind">What sort of thing: plan, check, arrival.</param>
    /// <param name="about">What, as an object for JSON.</param>
    public void Tell(int shotId, string kind, object about)
    {
        var item = new SseItem<string>(JsonSerializer.Serialize(about, AnyJson.Compact), kind);
        foreach (var listener in _listeners.Where(l => l.Key.Shot == shotId))
        {
            listener.Value.Events.Writer.TryWrite(item);
        }

        TellYard();
    }

    /// <summary>Tells every open yard that something about some shot is new.</summary>
    public void TellYard()
    {
        foreach (var listener in _listeners.Where(l => l.Key.Shot == EveryShot))
        {
            listener.Value.Events.Writer.TryWrite(new SseItem<string>("{}", "shot"));
        }
    }

    /// <summary>The shots whose arrivals somebody looks at.</summary>
    public IReadOnlyCollection<int> Watched => [.. _listeners.Where(l => l.Value.SeesArrivals).Select(l => l.Key.Shot).Distinct()];

    /// <summary>Whether anybody looks at a shot's arrivals.</summary>
    public bool IsWatched(int shotId) => _listeners.Any(l => l.Key.Shot == shotId && l.Value.SeesArrivals);

    /// <summary>What happens to a shot from now on, with a pulse in between so that broken connections are noticed.</summary>
    /// <param name="shotId">The shot, or <see cref="EveryShot"/>.</param>
    /// <param name="seesArrivals">Whether files are shown as they land.</param>
    /// <param name="cancel">The page was closed.</param>
    public async IAsyncEnumerable<SseItem<string>> ListenAsync(
        int shotId,
        bool seesArrivals,
        [EnumeratorCancellation] CancellationToken cancel
    )
    {
        var key = (shotId, Guid.NewGuid());
        var channel = Channel.CreateBounded<SseItem<string>>(
            new BoundedChannelOptions(MostWaiting) { FullMode = BoundedChannelFullMode.DropOldest }
        );
        _listeners[key] = new Listener(channel, seesArrivals);
        try
        {
            yield return new SseItem<string>("{}", "hello");
            while (!cancel.IsCancellationRequested)
            {
                if (!await ArrivesAsync(channel.Reader, cancel))
                {
                    yield return new SseItem<string>("{}", "pulse");
                }

                while (channel.Reader.TryRead(out SseItem<string> item))
                {
                    yield return item;
                }
            }
        }
        finally
        {
            _listeners.TryRemove(key, out _);
        }
    }

    /// <summary>Waits for something to read, at most one pulse.</summary>
    private static async Task<bool> ArrivesAsync(ChannelReader<SseItem<string>> reader, CancellationToken cancel)
    {
        using var pulse = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        pulse.CancelAfter(Pulse);
        try
        {
            return await reader.WaitToReadAsync(pulse.Token);
        }
        catch (OperationCanceledException)
        {
            // Either a pulse is due, or the page was closed and nobody listens any more.
            return cancel.IsCancellationRequested;
        }
    }
}
