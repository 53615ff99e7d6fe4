using System.Collections.Concurrent;
using System.Net.ServerSentEvents;
using System.Runtime.CompilerServices;
using System.Text.Json;
using System.Threading.Channels;
using DuneCrate.Core.Documents;

namespace DuneCrate.Web.Live;

/// <summary>
/// Tells the open pages of a shot what happened, as server-sent events. Pages that listen slowly miss the oldest ones; each event says
/// enough to catch up.
/// </summary>
public sealed class ShotEvents
{
    private const int MostWaiting = 64;
    private static readonly TimeSpan Pulse = TimeSpan.FromSeconds(15);

    private readonly ConcurrentDictionary<(int Shot, Guid Listener), Channel<SseItem<string>>> _listeners = new();

    /// <summary>Tells every open page of a shot.</summary>
    /// <param name="shotId">The shot.</param>
    /// <param name="kind">What sort of thing: plan, check, arrival.</param>
    /// <param name="about">What, as an object for JSON.</param>
    public void Tell(int shotId, string kind, object about)
    {
        var item = new SseItem<string>(JsonSerializer.Serialize(about, DocumentJson.Compact), kind);
        foreach (var listener in _listeners.Where(l => l.Key.Shot == shotId))
        {
            listener.Value.Writer.TryWrite(item);
        }
    }

    /// <summary>The shots that somebody looks at.</summary>
    public IReadOnlyCollection<int> Watched => [.. _listeners.Keys.Select(k => k.Shot).Distinct()];

    /// <summary>Whether anybody looks at a shot.</summary>
    public bool IsWatched(int shotId) => _listeners.Keys.Any(k => k.Shot == shotId);

    /// <summary>What happens to a shot from now on, with a pulse in between so that broken connections are noticed.</summary>
    public async IAsyncEnumerable<SseItem<string>> ListenAsync(int shotId, [EnumeratorCancellation] CancellationToken cancel)
    {
        var key = (shotId, Guid.NewGuid());
        Channel<SseItem<string>> channel = _listeners[key] = Channel.CreateBounded<SseItem<string>>(
            new BoundedChannelOptions(MostWaiting) { FullMode = BoundedChannelFullMode.DropOldest }
        );
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
