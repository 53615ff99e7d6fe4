namespace DuneCrate.Core.Intake.Measures;

/// <summary>Pixels above 8 × the median of their eight neighbours and above the frame's 99.9th percentile.</summary>
/// <param name="Count">How many.</param>
/// <param name="Worst">Value of the brightest.</param>
/// <param name="At">Its x and y, or null.</param>
public sealed record FireflyFacts(long Count, double Worst, int[]? At);
