using DuneCrate.Checking.Rebuild;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging.Listing;

namespace DuneCrate.Checking.Intake;

/// <summary>
/// Remembers facts by path, size, time and what was asked, so that an unchanged file is never read twice. Implementations are
/// safe to call from several threads.
/// </summary>
public interface IFactsCache : IKnownFacts
{
    /// <summary>The facts of an unchanged file, or null. Pixel facts answer a header request too.</summary>
    FileFacts? Find(IntakeFile file, FactsRequest request);

    /// <summary>
    /// Begins to look up what is known of a folder and those below it, while somebody lists them; what comes back finds the same as this.
    /// </summary>
    /// <param name="folder">The folder.</param>
    /// <param name="depth">The depth that will be asked for.</param>
    IKnownFacts BesideListing(StoragePath folder, FactsDepth depth) => this;

    /// <inheritdoc/>
    IReadOnlyDictionary<string, FileFacts> IKnownFacts.FindAll(
        IReadOnlyCollection<IntakeFile> files,
        FactsRequest request,
        Func<IntakeFile, FactsRequest> each
    ) =>
        files
            .Select(f => (f.FullPath, Facts: Find(f, each(f))))
            .Where(f => f.Facts is not null)
            .ToDictionary(f => f.FullPath, f => f.Facts!);

    /// <summary>Remembers the facts of a file, which hold for longer than this moment.</summary>
    void Keep(IntakeFile file, FactsRequest request, FileFacts facts);

    /// <summary>Sees to it that what was kept outlives this process.</summary>
    void Flush() { }

    /// <summary>A rebuild over several files that was measured before, or null.</summary>
    RebuildFacts? FindRebuild(RebuildKey key) => null;

    /// <summary>Remembers a rebuild over several files.</summary>
    void KeepRebuild(RebuildKey key, RebuildFacts facts) { }
}
