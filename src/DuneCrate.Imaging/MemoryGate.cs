using DuneCrate.Foundation.Threading;

namespace DuneCrate.Imaging;

/// <summary>
/// Memory that reading pictures may take at once, over all who read. Whoever needs more than is left waits for his turn; whoever needs more
/// than there is at all is refused. Those
/// who hold a share must not ask for a second one. Safe to use from any thread.
/// </summary>
/// <param name="total">Bytes in all.</param>
public sealed class MemoryGate(long total)
{
    private readonly Lock _lock = new();
    private readonly LinkedList<(long Bytes, TaskCompletionSource Turn)> _waiting = [];
    private long _held;

    /// <summary>Bytes in all.</summary>
    public long Total => total;

    /// <summary>Bytes that are held now.</summary>
    public long Held
    {
        get
        {
            lock (_lock)
            {
                return _held;
            }
        }
    }

    /// <summary>Waits until the bytes are free and takes them; disposing the answer gives them back.</summary>
    /// <exception cref="OperationCanceledException">The wait was stopped.</exception>
    /// <exception cref="InsufficientMemoryException">More is asked for than there is in all.</exception>
    public async ValueTask<IDisposable> TakeAsync(long bytes, CancellationToken cancel)
    {
        if (bytes > total)
        {
            throw new InsufficientMemoryException(
                $"{bytes >> 20} MiB of memory would be needed at once, and at most {total >> 20} MiB are used"
            );
        }

        LinkedListNode<(long, TaskCompletionSource Turn)>? node = null;
        lock (_lock)
        {
            if (_waiting.Count == 0 && _held + bytes <= total)
            {
                _held += bytes;
            }
            else
            {
                node = _waiting.AddLast((bytes, new TaskCompletionSource(TaskCreationOptions.RunContinuationsAsynchronously)));
            }
        }

        if (node is not null)
        {
            await using CancellationTokenRegistration stop = cancel.Register(() => GiveUp(node));
            await node.Value.Turn.Task;
        }

        return new Share(this, bytes);
    }

    /// <summary>The same, for work that has a thread of its own.</summary>
    /// <inheritdoc cref="TakeAsync" path="/exception"/>
    public IDisposable Take(long bytes, CancellationToken cancel)
    {
        ValueTask<IDisposable> share = TakeAsync(bytes, cancel);
        return WorkThread.WaitFor(share.AsTask());
    }

    private void GiveUp(LinkedListNode<(long Bytes, TaskCompletionSource Turn)> node)
    {
        lock (_lock)
        {
            if (node.List is null)
            {
                return;
            }

            _waiting.Remove(node);
            Admit();
        }

        node.Value.Turn.TrySetCanceled();
    }

    private void GiveBack(long bytes)
    {
        lock (_lock)
        {
            _held -= bytes;
            Admit();
        }
    }

    /// <summary>Lets those in whose turn has come. Called under the lock.</summary>
    private void Admit()
    {
        while (_waiting.First is { } next && _held + next.Value.Bytes <= total)
        {
            _waiting.RemoveFirst();
            _held += next.Value.Bytes;
            next.Value.Turn.TrySetResult();
        }
    }

    private sealed class Share(MemoryGate gate, long bytes) : IDisposable
    {
        private int _given;

        public void Dispose()
        {
            if (Interlocked.Exchange(ref _given, 1) == 0)
            {
                gate.GiveBack(bytes);
            }
        }
    }
}
