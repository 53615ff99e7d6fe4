using System.Collections.Immutable;
using System.Runtime.CompilerServices;
using DuneCrate.Crates;
using DuneCrate.Crates.Slimming;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;
using DuneCrate.Shots.Jobs;
using DuneCrate.Store.Keeping;

namespace DuneCrate.Shots.Crating;

/// <summary>Tries what could go from crates, one at a time beside the pages, and keeps what was found for as long as it holds.</summary>
public sealed class SlimmingTrials(LowPriorityScheduler lowPriority, DataFolder data, ReadLimits limits)
{
    private const string Folder = "trials";

    private readonly ConditionalWeakTable<CrateContents, object> _known = [];
    private readonly SemaphoreSlim _turn = new(1, 1);

    /// <summary>What could go from a crate.</summary>
    /// <exception cref="CrateRefusedException">A file is not what was checked.</exception>
    /// <exception cref="IOException">The disk refuses.</exception>
    public async Task<ImmutableArray<CrateSaving>> FindAsync(CrateContents contents, CancellationToken cancel)
    {
        await _turn.WaitAsync(cancel);
        try
        {
            if (_known.TryGetValue(contents, out object? known))
            {
                return (ImmutableArray<CrateSaving>)known;
            }

            StoragePath scratch = StorageRoot.At(data.Private(Folder).FullName).Top;
            ImmutableArray<CrateSaving> found = await lowPriority.DoAsync(() => CrateSlimming.Find(contents, scratch, limits, cancel));
            _known.AddOrUpdate(contents, found);
            return found;
        }
        finally
        {
            _turn.Release();
        }
    }
}
