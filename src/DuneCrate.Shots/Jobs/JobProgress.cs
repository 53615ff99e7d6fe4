using System.Diagnostics;
using DuneCrate.Foundation.Documents;

namespace DuneCrate.Shots.Jobs;

/// <summary>
/// Live progress of one piece of background work, and the way to stop it. Written by the work, read by pages. Safe to use from any thread.
/// </summary>
public sealed class JobProgress
{
    private static readonly TimeSpan Pace = TimeSpan.FromMilliseconds(500);

    // Never disposed: it has no timer, and a stop may come at any moment, also after the end.
    private readonly CancellationTokenSource _stop = new();
    private readonly long _started = Stopwatch.GetTimestamp();
    private long _done,
        _total;
    private volatile string _doing = "";
    private volatile bool _isPausing;
    private long _told;

    /// <summary>Called when something changed, at most twice a second; pages are told by it.</summary>
    public Action? Changed { get; set; }

    /// <summary>What is being done.</summary>
    public string Doing
    {
        get => _doing;
        set
        {
            _doing = value;
            Tell();
        }
    }

    /// <summary>Units done.</summary>
    public long Done => Interlocked.Read(ref _done);

    /// <summary>All units, or 0 while they are being counted.</summary>
    public long Total => Interlocked.Read(ref _total);

    /// <summary>Share done, 0..1.</summary>
    public double Share => Total > 0 ? Math.Min(1, (double)Done / Total) : 0;

    /// <summary>Time left at the pace so far, or null when too little is done to tell.</summary>
    public TimeSpan? Left => Share > 0.02 ? Stopwatch.GetElapsedTime(_started) * (1 / Share - 1) : null;

    /// <summary>How far it is: "40 of 282, about 12 s left".</summary>
    public string Summary =>
        Total == 0
            ? "starting"
            : FormattableString.Invariant($"{Done:N0} of {Total:N0}") + (Left is { } left ? $", about {Words.Duration(left)} left" : "");

    /// <summary>Cancelled once somebody has asked the work to stop, whether it waits or runs.</summary>
    public CancellationToken Stopped => _stop.Token;

    /// <summary>Sets both numbers; those of late reports never go back.</summary>
    public void Set(long done, long of)
    {
        Interlocked.Exchange(ref _total, of);
        long seen;
        while ((seen = Interlocked.Read(ref _done)) < done && Interlocked.CompareExchange(ref _done, done, seen) != seen) { }

        Tell();
    }

    private void Tell()
    {
        long told = Interlocked.Read(ref _told),
            now = Stopwatch.GetTimestamp();
        if (
            Changed is { } changed
            && Stopwatch.GetElapsedTime(told, now) >= Pace
            && Interlocked.CompareExchange(ref _told, now, told) == told
        )
        {
            changed();
        }
    }

    /// <summary>Whether somebody has asked that the work be put off, what is done so far kept.</summary>
    public bool IsPausing => _isPausing;

    /// <summary>Asks that the work be put off.</summary>
    public void Pause() => _isPausing = true;

    /// <summary>Asks the work to stop.</summary>
    public void Stop() => _stop.Cancel();
}
