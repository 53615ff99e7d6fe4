using DuneCrate.Shots.Roots;

namespace DuneCrate.Shots.Tests;

/// <summary>What was seen last answers at once, and is looked at anew when it is old, whatever becomes of the time of day.</summary>
public sealed class SeenLatelyTests
{
    private readonly SettableClock _clock = new();

    [Fact]
    public async Task A_clock_that_is_put_back_a_day_keeps_nothing_young()
    {
        int looks = 0;
        var seen = new SeenLately<string, int?>(TimeSpan.FromSeconds(10), _clock, _ => ++looks);
        await UntilAsync(seen, 1);
        _clock.TimeOfDay = _clock.TimeOfDay.AddDays(-1);
        Assert.Equal(1, seen.Get("disk"));
        Assert.Equal(1, looks);
        _clock.Elapsed += TimeSpan.FromSeconds(11);
        await UntilAsync(seen, 2);
        Assert.Equal(2, seen.Get("disk"));
        Assert.Equal(2, looks);
    }

    private static async Task UntilAsync(SeenLately<string, int?> seen, int value)
    {
        using var enough = new CancellationTokenSource(TimeSpan.FromSeconds(30));
        using var timer = new PeriodicTimer(TimeSpan.FromMilliseconds(10));
        while (seen.Get("disk") != value)
        {
            await timer.WaitForNextTickAsync(enough.Token);
        }
    }

    /// <summary>A machine's two clocks: the time of day, which people set, and the one that only goes on.</summary>
    private sealed class SettableClock : TimeProvider
    {
        public DateTimeOffset TimeOfDay { get; set; } = new(2031, 3, 1, 9, 0, 0, TimeSpan.Zero);

        public TimeSpan Elapsed { get; set; }

        public override long TimestampFrequency => TimeSpan.TicksPerSecond;

        public override DateTimeOffset GetUtcNow() => TimeOfDay;

        public override long GetTimestamp() => Elapsed.Ticks;
    }
}
