using System.Collections.Immutable;
using DuneCrate.Checking.Rebuild;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;

namespace DuneCrate.Checking.Intake.Gathering;

/// <summary>Sums over several files that are to be measured.</summary>
/// <param name="Folder">The folder with the files.</param>
/// <param name="Sums">What to sum.</param>
/// <param name="Catalogue">The passes that are known.</param>
/// <param name="Cache">Remembers.</param>
/// <param name="Limits">Bounds on files.</param>
public sealed record SumsOrder(
    StoragePath Folder,
    ImmutableArray<SplitSum> Sums,
    PassCatalogue Catalogue,
    IFactsCache Cache,
    ReadLimits Limits
)
{
    /// <summary>Measures one of the sums here and remembers it.</summary>
    public RebuildFacts? Measure(int place, CancellationToken cancel)
    {
        RebuildFacts? facts = Sums[place].Measure(Folder, Limits, cancel);
        if (facts is not null)
        {
            Cache.KeepRebuild(Sums[place].Key, facts);
        }

        return facts;
    }
}
