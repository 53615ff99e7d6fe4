using NATS.Client.Core;

namespace DuneCrate.Engine;

/// <summary>Whether the engine is there, by the connection to it: one that tries to come back counts as away. Safe to ask from any
/// thread.</summary>
/// <param name="clock">Tells how long it has been away.</param>
internal sealed class EnginePresence(TimeProvider clock)
{
    private readonly Lock _lock = new();
    private NatsConnection? _connection;
    private long? _lost;

    /// <summary>Whether messages go out now.</summary>
    public bool IsOpen => _connection?.ConnectionState == NatsConnectionState.Open;

    /// <summary>For how long it has been away; null while it is there.</summary>
    public TimeSpan? LostFor
    {
        get
        {
            lock (_lock)
            {
                return IsOpen ? null : clock.GetElapsedTime(_lost ??= clock.GetTimestamp());
            }
        }
    }

    /// <summary>Follows a connection.</summary>
    public void Watch(NatsConnection connection)
    {
        _connection = connection;
        connection.ConnectionDisconnected += (_, _) => NoteAsync(isLost: true);
        connection.ConnectionOpened += (_, _) => NoteAsync(isLost: false);
    }

    private ValueTask NoteAsync(bool isLost)
    {
        lock (_lock)
        {
            _lost = isLost ? _lost ?? clock.GetTimestamp() : null;
        }

        return default;
    }
}
