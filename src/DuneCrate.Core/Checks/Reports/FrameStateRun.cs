using DuneCrate.Core.Checks.Findings;
using DuneCrate.Core.Frames;

namespace DuneCrate.Core.Checks.Reports;

/// <summary>Frames in one state.</summary>
public sealed record FrameStateRun(FrameState State, FrameSet Frames);
