using DuneCrate.Checking.Rebuild;
using DuneCrate.Foundation.Storage;

namespace DuneCrate.Checking.Intake.Gathering;

/// <summary>
/// Who opens the files of a run: this process (<see cref="GatheringHere"/>), or other machines that have the same storage. Whoever does,
/// the facts are the same. Safe for several runs at once.
/// </summary>
public interface IFactsGatherer
{
    /// <summary>Reads the wanted files of an order; what is read is kept in its cache.</summary>
    /// <param name="order">What to read.</param>
    /// <param name="got">Told once for each wanted file, from any thread, with its place in the order's listing.</param>
    /// <param name="cancel">Stops; what has been kept stays.</param>
    /// <exception cref="OperationCanceledException">The run was stopped.</exception>
    void Gather(FactsOrder order, Action<int, FileFacts> got, CancellationToken cancel);

    /// <summary>Measures sums over several files; what is measured is kept in the order's cache.</summary>
    /// <param name="order">What to sum.</param>
    /// <param name="got">Told once for each sum, from any thread, with its place; null when a file could not be read after all.</param>
    /// <param name="cancel">Stops.</param>
    /// <exception cref="OperationCanceledException">The run was stopped.</exception>
    void Measure(SumsOrder order, Action<int, RebuildFacts?> got, CancellationToken cancel);

    /// <summary>Other machines that read for a folder now; 0 where this process reads alone.</summary>
    int MachinesFor(StoragePath folder);
}
