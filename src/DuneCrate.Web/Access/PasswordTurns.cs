using System.Threading.RateLimiting;

namespace DuneCrate.Web.Access;

/// <summary>
/// Passwords are hashed one at a time for each address and few at a time in all: a hash takes a core for a tenth of a second, and pages
/// have to go on while strangers try to sign in. A studio behind one address that signs in as the day begins waits a few seconds.
/// </summary>
public sealed class PasswordTurns : IDisposable
{
    private const int MostWaitingHere = 32,
        MostWaiting = 200;

    private static readonly int Concurrency = Math.Max(1, Environment.ProcessorCount / 2);

    private readonly PartitionedRateLimiter<string> _turns = PartitionedRateLimiter.CreateChained(
        PartitionedRateLimiter.Create<string, string>(address => Limit(address, 1, MostWaitingHere)),
        PartitionedRateLimiter.Create<string, string>(_ => Limit("", Concurrency, MostWaiting))
    );

    /// <summary>Waits for a turn; disposing the answer ends it.</summary>
    /// <param name="address">Whose turn it is.</param>
    /// <param name="cancel">Gives up.</param>
    /// <exception cref="TooBusyException">Too many wait already.</exception>
    public async Task<IDisposable> TakeAsync(string address, CancellationToken cancel)
    {
        RateLimitLease lease = await _turns.AcquireAsync(address, 1, cancel);
        if (lease.IsAcquired)
        {
            return lease;
        }

        lease.Dispose();
        throw new TooBusyException();
    }

    /// <inheritdoc/>
    public void Dispose() => _turns.Dispose();

    private static RateLimitPartition<string> Limit(string key, int concurrency, int waiting) =>
        RateLimitPartition.GetConcurrencyLimiter(
            key,
            _ => new ConcurrencyLimiterOptions
            {
                PermitLimit = concurrency,
                QueueLimit = waiting,
                QueueProcessingOrder = QueueProcessingOrder.OldestFirst,
            }
        );
}
