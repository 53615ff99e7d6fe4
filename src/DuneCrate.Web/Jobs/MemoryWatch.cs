using DuneCrate.Core.Images;

namespace DuneCrate.Web.Jobs;

/// <summary>
/// Looks every second how much memory the process takes. Checks and crates of very many files leave garbage that the collector, on a
/// machine with room, would not look at for a long time; above a bound it is collected whenever it has grown by a step.
/// </summary>
public sealed class MemoryWatch(TimeProvider clock) : BackgroundService
{
    private const long Much = 400L << 20,
        Step = 32L << 20;
    private static readonly TimeSpan Beat = TimeSpan.FromSeconds(1);

    /// <summary>Memory is the process's, however many hosts run in it.</summary>
    private static long _lately;

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(Beat, clock);
        while (await timer.WaitForNextTickAsync(stoppingToken))
        {
            long now = Environment.WorkingSet;
            if (IsDue(now, Volatile.Read(ref _lately)))
            {
                SpareMemory.GiveBack();
                Volatile.Write(ref _lately, Environment.WorkingSet);
            }
            else if (now < Volatile.Read(ref _lately))
            {
                Volatile.Write(ref _lately, now);
            }
        }
    }

    /// <summary>Whether it is time to collect.</summary>
    /// <param name="now">Bytes that the process takes.</param>
    /// <param name="lately">Bytes that it took after the last time, or the least since.</param>
    internal static bool IsDue(long now, long lately) => now > Much && now > lately + Step;
}
