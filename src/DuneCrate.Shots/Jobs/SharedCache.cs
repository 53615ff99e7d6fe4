using System.Collections.Concurrent;
using System.Diagnostics.CodeAnalysis;
using Microsoft.Extensions.Caching.Memory;

namespace DuneCrate.Shots.Jobs;

/// <summary>
/// What is costly to make, made once however many ask at the same time, and kept as long as there is room: the framework's memory cache
/// bounded by size, with one maker for each key.
/// When everybody who asked has left, the making is stopped. Safe to use from any thread. (The framework's hybrid cache serializes every
/// value to learn its size; pictures of a hundred
/// megabytes are not for that.)
/// </summary>
/// <param name="most">Size of everything that is kept.</param>
/// <param name="size">Size of a value; one larger than all there is room for is kept alone.</param>
public sealed class SharedCache<TKey, TValue>(long most, Func<TKey, TValue, long> size) : IDisposable
    where TKey : notnull
    where TValue : class
{
    private const int Halvings = 6;

    private readonly MemoryCache _kept = new(new MemoryCacheOptions { SizeLimit = most, CompactionPercentage = 0.1 });
    private readonly ConcurrentDictionary<TKey, Flight> _flights = new();
    private readonly Lock _lock = new();

    /// <summary>A value that is kept.</summary>
    public bool TryGet(TKey key, [NotNullWhen(true)] out TValue? value) => _kept.TryGetValue(key, out value) && value is not null;

    /// <summary>Keeps a value.</summary>
    public void Keep(TKey key, TValue value)
    {
        var entry = new MemoryCacheEntryOptions { Size = Math.Clamp(size(key, value), 1, most) };
        _kept.Set(key, value, entry);

        // The framework's cache makes room beside and leaves out what does not fit now: the newest is what is asked for next.
        for (int i = 1; i <= Halvings && !_kept.TryGetValue(key, out _); i++)
        {
            _kept.Compact(i < Halvings ? 0.5 : 1);
            _kept.Set(key, value, entry);
        }
    }

    /// <summary>Forgets a value.</summary>
    public void Forget(TKey key) => _kept.Remove(key);

    /// <summary>The value that is kept, or that somebody is making, or that is made now.</summary>
    /// <param name="key">What it is the value of.</param>
    /// <param name="make">Makes it; its token is cancelled when nobody waits any more.</param>
    /// <param name="cancel">Leaves; others who wait still get it.</param>
    public async Task<TValue> GetAsync(TKey key, Func<CancellationToken, Task<TValue>> make, CancellationToken cancel)
    {
        if (TryGet(key, out TValue? kept))
        {
            return kept;
        }

        Flight flight;
        lock (_lock)
        {
            if (!_flights.TryGetValue(key, out flight!) || flight.Stop.IsCancellationRequested)
            {
                _flights[key] = flight = new Flight();
                CancellationToken stop = flight.Stop.Token;
                Flight own = flight;
                flight.Made = Task.Run(() => MakeAsync(key, own, make, stop), CancellationToken.None);
            }

            flight.Waiting++;
        }

        try
        {
            return await flight.Made.WaitAsync(cancel);
        }
        finally
        {
            lock (_lock)
            {
                if (--flight.Waiting == 0 && !flight.Made.IsCompleted)
                {
                    flight.Stop.Cancel();
                }
            }
        }
    }

    /// <summary>Begins to make a value, for those who will ask for it later; nothing happens when it is kept or being made.</summary>
    public void Begin(TKey key, Func<CancellationToken, Task<TValue>> make)
    {
        if (!TryGet(key, out _) && !_flights.ContainsKey(key))
        {
            // Nobody waits: it is made to the end, and what goes wrong is found by whoever asks.
            _ = GetAsync(key, make, CancellationToken.None).ContinueWith(t => t.Exception, TaskContinuationOptions.OnlyOnFaulted);
        }
    }

    private async Task<TValue> MakeAsync(TKey key, Flight flight, Func<CancellationToken, Task<TValue>> make, CancellationToken stop)
    {
        try
        {
            TValue value = await make(stop);
            Keep(key, value);
            return value;
        }
        finally
        {
            lock (_lock)
            {
                _flights.TryRemove(KeyValuePair.Create(key, flight));
            }
        }
    }

    /// <inheritdoc/>
    public void Dispose() => _kept.Dispose();

    private sealed class Flight
    {
        public CancellationTokenSource Stop { get; } = new();

        public Task<TValue> Made { get; set; } = null!;

        public int Waiting { get; set; }
    }
}
