using DuneCrate.Engine.Messages;

namespace DuneCrate.Engine.Workers;

/// <summary>A place in which one piece of work at a time is done: what is read there, since when, and the way to stop it.</summary>
/// <param name="clock">Tells how long a file takes.</param>
internal sealed class Slot(TimeProvider clock)
{
    private readonly Lock _lock = new();
    private CancellationTokenSource? _stop;
    private WorkMessage? _work;
    private string? _reading;
    private long _since;

    /// <summary>What is read now; null while it waits.</summary>
    public string? Reading
    {
        get
        {
            lock (_lock)
            {
                return _reading;
            }
        }
    }

    /// <summary>Whether the file that is read now has not taken too long: a read that hangs in the file system gives no sign.</summary>
    public bool IsAlive(TimeSpan most)
    {
        lock (_lock)
        {
            return _reading is null || clock.GetElapsedTime(_since) < most;
        }
    }

    /// <summary>Begins a piece.</summary>
    public CancellationToken Begin(WorkMessage work)
    {
        lock (_lock)
        {
            (_work, _stop, _since) = (work, new CancellationTokenSource(), clock.GetTimestamp());
            return _stop.Token;
        }
    }

    /// <summary>Notes what is read.</summary>
    public void Read(string what)
    {
        lock (_lock)
        {
            (_reading, _since) = (what, clock.GetTimestamp());
        }
    }

    /// <summary>Ends the piece.</summary>
    public void End()
    {
        lock (_lock)
        {
            _stop?.Dispose();
            (_work, _stop, _reading) = (null, null, null);
        }
    }

    /// <summary>Stops what is done when it belongs to a run.</summary>
    public void Stop(string run)
    {
        lock (_lock)
        {
            if (_work?.Run == run)
            {
                _stop?.Cancel();
            }
        }
    }
}
