namespace DuneCrate.Checking.Intake.Measures;

/// <summary>The ground of a pass that is multiplied over others: white where nothing is.</summary>
/// <param name="Empty">Pixels that the file's alpha leaves empty; null without alpha in the file.</param>
/// <param name="Dark">Those of them below 0.98.</param>
/// <param name="White">Pixels of at least 0.98 altogether.</param>
/// <param name="At">x and y of the first dark one, or null.</param>
public sealed record GroundFacts(long? Empty, long Dark, long White, int[]? At);
