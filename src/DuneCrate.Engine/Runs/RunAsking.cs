namespace DuneCrate.Engine.Runs;

/// <summary>What is remembered of a run between two steps. How long something took is told by a clock that goes on evenly when the time of
/// day is set.</summary>
/// <param name="clock">That clock.</param>
internal sealed class RunAsking(TimeProvider clock)
{
    private long _heard = clock.GetTimestamp(),
        _asked = clock.GetTimestamp();
    private long? _silent;

    /// <summary>Whether the engine knows of it.</summary>
    public bool IsBegun { get; set; }

    /// <summary>Whether the rest is read here.</summary>
    public bool IsHere { get; set; }

    /// <summary>For how long no machine that has the root was heard of; at first, since the run began.</summary>
    public TimeSpan Alone => clock.GetElapsedTime(_heard);

    /// <summary>How long ago everything that is out was last asked for.</summary>
    public TimeSpan SinceAsked => clock.GetElapsedTime(_asked);

    /// <summary>For how long the engine has answered nothing that it is given; null while it answers.</summary>
    public TimeSpan? SilentFor => _silent is { } since ? clock.GetElapsedTime(since) : null;

    /// <summary>A machine that has the root is there.</summary>
    public void Hear() => _heard = clock.GetTimestamp();

    /// <summary>Everything that is out is asked for now.</summary>
    public void Ask() => _asked = clock.GetTimestamp();

    /// <summary>The engine has answered, or has not since <paramref name="begun"/> at least.</summary>
    public void Note(bool hasAnswered, long begun) => _silent = hasAnswered ? null : _silent ?? begun;
}
