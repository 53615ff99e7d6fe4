using System.Collections.Concurrent;

namespace DuneCrate.Shots.Roots;

/// <summary>
/// Answers from what was seen last, at once, and looks anew beside when that is old: for disks, which may be slow or gone. One look at a
/// time for each key. Safe to use from any thread.
/// </summary>
/// <param name="freshness">How old an answer may be before a new look is begun.</param>
/// <param name="clock">Tells how old; a clock that is put back makes nothing young again.</param>
/// <param name="look">Looks; what it throws leaves the answer as it was.</param>
public sealed class SeenLately<TKey, TValue>(TimeSpan freshness, TimeProvider clock, Func<TKey, TValue> look)
    where TKey : notnull
{
    private readonly ConcurrentDictionary<TKey, Entry> _seen = new();

    /// <summary>What was seen last; the default while nothing was.</summary>
    public TValue? Get(TKey key)
    {
        Entry entry = _seen.GetOrAdd(key, _ => new Entry());
        if (entry.IsOlderThan(freshness, clock) && Interlocked.Exchange(ref entry.Looking, 1) == 0)
        {
            _ = Task.Run(() => Look(key, entry));
        }

        return entry.Value;
    }

    private void Look(TKey key, Entry entry)
    {
        try
        {
            entry.Value = look(key);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or ArgumentException)
        {
            // What was seen before stays: the next look may do better.
        }
        finally
        {
            entry.See(clock);
            Volatile.Write(ref entry.Looking, 0);
        }
    }

    private sealed class Entry
    {
        public int Looking;
        private Tuple<TValue?>? _value;
        private Tuple<long>? _at;

        public TValue? Value
        {
            get => Volatile.Read(ref _value) is { } value ? value.Item1 : default;
            set => Volatile.Write(ref _value, Tuple.Create(value));
        }

        public bool IsOlderThan(TimeSpan age, TimeProvider clock) =>
            Volatile.Read(ref _at) is not { Item1: var at } || clock.GetElapsedTime(at) > age;

        public void See(TimeProvider clock) => Volatile.Write(ref _at, Tuple.Create(clock.GetTimestamp()));
    }
}
