namespace DuneCrate.Engine.Tests;

/// <summary>A clock whose time of day somebody sets while it runs: the system's goes on evenly, as a machine's does (CLOCK_MONOTONIC,
/// POSIX.1-2024).</summary>
internal sealed class JumpingClock : TimeProvider
{
    private long _ahead;

    /// <summary>Sets the time of day forward, or back.</summary>
    public void Jump(TimeSpan by) => Interlocked.Add(ref _ahead, by.Ticks);

    public override DateTimeOffset GetUtcNow() => base.GetUtcNow() + TimeSpan.FromTicks(Interlocked.Read(ref _ahead));
}
