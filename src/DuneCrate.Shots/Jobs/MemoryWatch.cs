using DuneCrate.Imaging;

namespace DuneCrate.Shots.Jobs;

/// <summary>
/// Looks every second how much memory the process takes. Checks and crates of very many files leave garbage that the collector, on a
/// machine with room, would not look at for a long time; above a bound it is collected whenever it has grown by a step.
/// </summary>
public sealed class MemoryWatch(TimeProvider clock) : BackgroundService
{
    private const long Much = 400L << 20,
        Step = 32L << 20;
    private static readonly TimeSpan Beat = TimeSpan.FromSeconds(1);

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        long lately = 0;
        using var timer = new PeriodicTimer(Beat, clock);
        while (await timer.WaitForNextTickAsync(stoppingToken))
        {
            long now = Environment.WorkingSet;
            if (IsDue(now, lately))
            {
                SpareMemory.GiveBack();
                lately = Environment.WorkingSet;
            }
            else
            {
                lately = Math.Min(lately, now);
            }
        }
    }

    /// <summary>Whether it is time to collect.</summary>
    /// <param name="now">Bytes that the process takes.</param>
    /// <param name="lately">Bytes that it took after the last time, or the least since.</param>
    internal static bool IsDue(long now, long lately) => now > Much && now > lately + Step;
}
