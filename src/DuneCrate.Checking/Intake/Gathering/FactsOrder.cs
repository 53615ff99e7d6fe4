using System.Collections.Immutable;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Listing;

namespace DuneCrate.Checking.Intake.Gathering;

/// <summary>Files of one folder that are to be read.</summary>
/// <param name="Folder">The folder.</param>
/// <param name="Depth">How much of each file.</param>
/// <param name="Files">The whole listing of the folder, by path.</param>
/// <param name="Wanted">Places in the listing of those that are not known yet, ascending.</param>
/// <param name="Asked">What is asked of each file.</param>
/// <param name="Cache">Remembers.</param>
/// <param name="Limits">Bounds on what files may claim and cost.</param>
public sealed record FactsOrder(
    StoragePath Folder,
    FactsDepth Depth,
    ImmutableArray<IntakeFile> Files,
    ImmutableArray<int> Wanted,
    Func<IntakeFile, FactsRequest> Asked,
    IFactsCache Cache,
    ReadLimits Limits
)
{
    /// <summary>How soon it is wanted.</summary>
    public GatherPriority Priority { get; init; }

    /// <summary>Reads one of the files here and remembers it.</summary>
    public FileFacts Read(int place, CancellationToken cancel) =>
        FactsReader.Read(Files[place], Asked(Files[place]), Cache, Limits, cancel);
}
