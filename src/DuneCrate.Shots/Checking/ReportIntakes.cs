using System.Runtime.CompilerServices;
using DuneCrate.Checking;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Matching;
using DuneCrate.Foundation.Storage;
using DuneCrate.Planning.Model;
using DuneCrate.Shots.Jobs;
using DuneCrate.Store.Rows;

namespace DuneCrate.Shots.Checking;

/// <summary>
/// The facts behind reports, at hand for pages that need more than a report; those that are not kept any more are taken again from what is
/// remembered of the files.
/// </summary>
public sealed class ReportIntakes(CheckRequests requests) : IDisposable
{
    private const long MostBytes = 64L << 20;

    private readonly SharedCache<int, IntakeResult> _intakes = new(MostBytes, (_, i) => i.MemoryBytes);
    private readonly ConditionalWeakTable<IntakeResult, CheckContext> _contexts = [];

    /// <summary>Keeps what a check found.</summary>
    public void Keep(int checkId, CheckContext found)
    {
        _intakes.Keep(checkId, found.Intake);
        if (!IsVeryLarge(found.Intake))
        {
            _contexts.AddOrUpdate(found.Intake, found);
        }
    }

    /// <summary>Forgets what a check of a very large shot found, before it stands in memory twice.</summary>
    public void MakeRoom(int checkId)
    {
        if (_intakes.TryGet(checkId, out IntakeResult? intake) && IsVeryLarge(intake))
        {
            _intakes.Forget(checkId);
        }
    }

    /// <summary>What a check read; while it is not at hand it is taken again beside, and null says that it is not there yet.</summary>
    public IntakeResult? Find(CheckRow? check, StoragePath? folder, Plan plan)
    {
        if (check is null || folder is null)
        {
            return null;
        }

        if (_intakes.TryGet(check.Id, out IntakeResult? intake))
        {
            return intake;
        }

        _intakes.Begin(check.Id, stop => TakeAgainAsync(check, folder, plan, stop));
        return null;
    }

    /// <summary>The same, waited for. Not for pages.</summary>
    /// <exception cref="IOException">The folder is gone.</exception>
    public Task<IntakeResult> GetAsync(CheckRow check, StoragePath folder, Plan plan, CancellationToken cancel) =>
        _intakes.GetAsync(check.Id, stop => TakeAgainAsync(check, folder, plan, stop), cancel);

    /// <summary>What was read, matched to a plan as rules see it.</summary>
    public CheckContext ContextOf(IntakeResult intake, Plan plan)
    {
        if (!_contexts.TryGetValue(intake, out var known) || !ReferenceEquals(known.Plan, plan))
        {
            _contexts.AddOrUpdate(intake, known = new CheckContext(plan, intake));
        }

        return known;
    }

    /// <inheritdoc/>
    public void Dispose() => _intakes.Dispose();

    private static bool IsVeryLarge(IntakeResult intake) => intake.MemoryBytes > MostBytes / 2;

    private Task<IntakeResult> TakeAgainAsync(CheckRow check, StoragePath folder, Plan plan, CancellationToken stop) =>
        Task.Run(
            () => FolderCheck.TakeIn(requests.Of(folder, plan, check.Pixels ? FactsDepth.Pixels : FactsDepth.Header), stop),
            CancellationToken.None
        );
}
