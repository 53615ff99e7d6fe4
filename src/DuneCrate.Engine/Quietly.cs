using NATS.Client.Core;

namespace DuneCrate.Engine;

/// <summary>What is done at an end, where nothing can be said any more.</summary>
internal static class Quietly
{
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(5);

    /// <summary>Closes a connection that may be broken already.</summary>
    public static Task DisposeAsync(NatsConnection connection) => DoAsync(() => connection.DisposeAsync().AsTask(), Patience);

    /// <summary>Does something that an engine which has gone may fail at, and waits for it for so long at most.</summary>
    public static Task DoAsync(Func<Task> act, TimeSpan limit, CancellationToken cancel = default) =>
        DoAsync(() => act().WaitAsync(limit, cancel));

    /// <summary>Does something that an engine which has gone may fail at.</summary>
    public static async Task DoAsync(Func<Task> act)
    {
        try
        {
            await act();
        }
        catch (Exception e)
            when (e is NatsException or TimeoutException or IOException or OperationCanceledException or ObjectDisposedException)
        {
            // Whoever comes next finds out for himself.
        }
    }
}
