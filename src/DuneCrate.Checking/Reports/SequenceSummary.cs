using DuneCrate.Foundation.Frames;

namespace DuneCrate.Checking.Reports;

/// <summary>A sequence or still of a report.</summary>
/// <param name="Name">With one <c>#</c> per digit.</param>
/// <param name="Layer">The layer of the output that claims it, else its first folder.</param>
/// <param name="Frames">Frames found; empty for a still.</param>
/// <param name="Missing">Frames planned and not found; without a plan the gaps.</param>
/// <param name="Padding">Digits; 0 for a still.</param>
/// <param name="Files">Files.</param>
/// <param name="Bytes">Bytes of all files.</param>
/// <param name="Width">Display window width of the first file that opens, or 0.</param>
/// <param name="Height">Display window height of the first file that opens, or 0.</param>
public sealed record SequenceSummary(
    string Name,
    string Layer,
    FrameSet Frames,
    FrameSet Missing,
    int Padding,
    int Files,
    long Bytes,
    int Width,
    int Height
)
{
    /// <summary>Whether an output of the plan claims it; true for all without a plan.</summary>
    public bool Planned { get; init; } = true;
}
