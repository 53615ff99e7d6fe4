using DuneCrate.Foundation.Frames;

namespace DuneCrate.Checking.Reports;

/// <summary>Frames of a layer that are given to one machine.</summary>
/// <param name="Layer">The layer.</param>
/// <param name="Frames">The frames.</param>
/// <param name="Count">How many.</param>
public sealed record RerunPortion(string Layer, FrameSet Frames, long Count);
