namespace DuneCrate.Checking.Reports;

/// <summary>A value that jumps.</summary>
/// <param name="Frame">The frame.</param>
/// <param name="X">Left end, 0..1000.</param>
/// <param name="Width">Width, of 1000.</param>
/// <param name="Text">The value.</param>
public sealed record TrendMark(int Frame, double X, double Width, string Text);
