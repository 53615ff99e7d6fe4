using DuneCrate.Checking.Rebuild;
using DuneCrate.Foundation.Storage;

namespace DuneCrate.Checking.Intake.Gathering;

/// <summary>Reads in this process, on all cores.</summary>
public sealed class GatheringHere : IFactsGatherer
{
    /// <summary>The one that everybody shares: it keeps nothing.</summary>
    public static readonly GatheringHere Shared = new();

    /// <inheritdoc/>
    public void Gather(FactsOrder order, Action<int, FileFacts> got, CancellationToken cancel) =>
        Parallel.ForEach(order.Wanted, Side(cancel), place => got(place, order.Read(place, cancel)));

    /// <inheritdoc/>
    public void Measure(SumsOrder order, Action<int, RebuildFacts?> got, CancellationToken cancel) =>
        Parallel.For(0, order.Sums.Length, Side(cancel), place => got(place, order.Measure(place, cancel)));

    /// <inheritdoc/>
    public int MachinesFor(StoragePath folder) => 0;

    /// <summary>On the scheduler of whoever asks: a server gives this work threads of its own.</summary>
    public static ParallelOptions Side(CancellationToken cancel) =>
        new()
        {
            MaxDegreeOfParallelism = Environment.ProcessorCount,
            CancellationToken = cancel,
            TaskScheduler = null,
        };
}
