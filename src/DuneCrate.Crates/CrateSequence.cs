using System.Collections.Immutable;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Naming;
using DuneCrate.Planning.Model;

namespace DuneCrate.Crates;

/// <summary>One sequence or still of a crate.</summary>
/// <param name="Short">Its short name.</param>
/// <param name="Name">The name of its files in the crate.</param>
/// <param name="Files">Its files, ascending by frame.</param>
/// <param name="Passes">The passes that it holds; at least one.</param>
/// <param name="Shift">What is added to the number of a frame as it was rendered.</param>
public sealed record CrateSequence(
    string Short,
    FrameName Name,
    ImmutableArray<CrateFile> Files,
    ImmutableArray<PackedPass> Passes,
    int Shift = 0
)
{
    /// <summary>The planned outputs that it comes from.</summary>
    public ImmutableArray<PlannedOutput> Outputs { get; } = [.. Passes.Select(p => p.Output).Distinct()];

    /// <summary>The render layer.</summary>
    public LayerPlan Layer => Outputs[0].Layer;

    /// <summary>Whether one file is planned on purpose.</summary>
    public bool IsStill => Outputs.All(o => o.IsStill);

    /// <summary>Bytes of all files that it comes from.</summary>
    public long Bytes { get; } = Files.Sum(f => f.Bytes);

    /// <summary>Whether any file is made anew.</summary>
    public bool IsConverted { get; } = Files.Any(f => f.Conversion is not null);

    /// <summary>The frames, by their numbers in the crate.</summary>
    public FrameSet Frames { get; } = FrameSet.From(Files.Select(f => f.Frame)).Shifted(Shift);
}
