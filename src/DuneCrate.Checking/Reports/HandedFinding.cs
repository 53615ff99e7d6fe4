using DuneCrate.Foundation.Frames;

namespace DuneCrate.Checking.Reports;

/// <summary>A finding in somebody's hands.</summary>
public sealed record HandedFinding(string Shot, string Rule, string Output, string? Pass, FrameSet Frames, string Note);
