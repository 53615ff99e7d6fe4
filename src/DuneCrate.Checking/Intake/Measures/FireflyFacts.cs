namespace DuneCrate.Checking.Intake.Measures;

/// <summary>Pixels above 8 × the median of their eight neighbours and above the frame's 99.9th percentile.</summary>
/// <param name="Count">How many.</param>
/// <param name="Worst">Value of the brightest.</param>
/// <param name="At">Its x and y, or null.</param>
/// <param name="Times">How many times the 99.9th percentile of its channel it is; 0 where that percentile is 0.</param>
public sealed record FireflyFacts(long Count, double Worst, int[]? At, double Times = 0);
