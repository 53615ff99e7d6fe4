using System.Collections.Immutable;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Intake;
using DuneCrate.Core.Naming;
using DuneCrate.Core.Planning.Model;

namespace DuneCrate.Core.Crates;

/// <summary>One sequence or still of a crate.</summary>
/// <param name="Output">The planned output it comes from.</param>
/// <param name="Short">Its short name: the folder it stands in below the group, and the beginning of its files.</param>
/// <param name="Name">The name of its files in the crate.</param>
/// <param name="Files">Its files, ascending by frame.</param>
/// <param name="Facts">What a file says that has the channels of most of them; null when none opens.</param>
public sealed record CrateSequence(
    PlannedOutput Output,
    string Short,
    FrameName Name,
    ImmutableArray<CrateFile> Files,
    FileFacts? Facts = null
)
{
    /// <summary>Bytes of all files.</summary>
    public long Bytes { get; } = Files.Sum(f => f.Bytes);

    /// <summary>The frames.</summary>
    public FrameSet Frames { get; } = FrameSet.From(Files.Select(f => f.Frame));
}
