using System.Collections.Immutable;
using DuneCrate.Checking.Rebuild;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Storage;

namespace DuneCrate.Checking.Intake;

/// <summary>One reading of a folder at a moment: the sequences found and a fact record per file.</summary>
/// <param name="Folder">The folder.</param>
/// <param name="Depth">How much was read.</param>
/// <param name="Taken">When, UTC.</param>
/// <param name="Sequences">Sequences and stills, by name.</param>
/// <param name="Facts">Facts by relative path.</param>
/// <param name="Rebuilds">Rebuilds of layers whose passes lie in several files, by layer and frame.</param>
public sealed record IntakeResult(
    StoragePath Folder,
    FactsDepth Depth,
    DateTime Taken,
    ImmutableArray<FileSequence> Sequences,
    ImmutableDictionary<string, FileFacts> Facts,
    ImmutableDictionary<(string Layer, int Frame), RebuildFacts> Rebuilds
)
{
    /// <summary>Paths of temporary and system files beside the frames, in order.</summary>
    public ImmutableArray<string> Clutter { get; init; } = [];

    /// <summary>Paths of folders that may not be read, in order: what they hold is not known, and is not missing.</summary>
    public ImmutableArray<string> Closed { get; init; } = [];

    /// <summary>The pass of each sequence whose files hold one that only their name tells. Only of use where nothing is planned.</summary>
    public ImmutableDictionary<FrameName, HeldPass> Held => field ??= PassFromName.Guess(this, PassCatalogue.Shipped);

    /// <summary>About as many bytes of memory as the facts take.</summary>
    public long MemoryBytes =>
        Facts.Values.Sum(f => 600 + f.Parts.Sum(p => 500L + 400L * p.Channels.Length + 2_800L * (p.Passes?.Length ?? 0)));
}
