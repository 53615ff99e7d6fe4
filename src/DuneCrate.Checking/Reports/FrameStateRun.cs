using DuneCrate.Checking.Findings;
using DuneCrate.Foundation.Frames;

namespace DuneCrate.Checking.Reports;

/// <summary>Frames in one state.</summary>
public sealed record FrameStateRun(FrameState State, FrameSet Frames);
