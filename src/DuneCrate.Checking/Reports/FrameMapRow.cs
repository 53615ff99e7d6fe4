using System.Collections.Immutable;
using DuneCrate.Checking.Findings;
using DuneCrate.Foundation.Frames;

namespace DuneCrate.Checking.Reports;

/// <summary>One output of the frame map.</summary>
/// <param name="Output">Name of the output.</param>
/// <param name="Layer">The layer.</param>
/// <param name="Label">Short name.</param>
/// <param name="Passes">Keys of its passes.</param>
/// <param name="Runs">Its frames by state; together every frame that is planned or found.</param>
/// <param name="Worst">The worst state in it.</param>
public sealed record FrameMapRow(
    string Output,
    string Layer,
    string Label,
    ImmutableArray<string> Passes,
    ImmutableArray<FrameStateRun> Runs,
    FrameState Worst
)
{
    /// <summary>The frames for which there is a file.</summary>
    public FrameSet There =>
        FrameSet.UnionOf(Runs.Where(r => r.State is not (FrameState.Missing or FrameState.Pending)).Select(r => r.Frames));

    /// <summary>The state of a frame, or null where nothing is planned or found.</summary>
    public FrameState? At(int frame) => Runs.FirstOrDefault(r => r.Frames.Contains(frame))?.State;
}
