using DuneCrate.Checking.Findings;
using DuneCrate.Foundation.Frames;

namespace DuneCrate.Checking.Reports;

/// <summary>One finding, or a part of its frames, between two checks.</summary>
/// <param name="Change">How it stands.</param>
/// <param name="Finding">The finding: of the later check, or for a fixed one of the earlier.</param>
/// <param name="Frames">The frames of which this holds; empty for findings about no single frame.</param>
public sealed record ComparedFinding(FindingChange Change, Finding Finding, FrameSet Frames);
