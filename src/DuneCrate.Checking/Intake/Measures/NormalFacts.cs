namespace DuneCrate.Checking.Intake.Measures;

/// <summary>Lengths of normals.</summary>
/// <param name="Covered">Pixels with a length of at least one half: a surface is there.</param>
/// <param name="Off">Those of them whose length is off 1 by more than 2 %.</param>
/// <param name="MeanLength">Mean length of the covered ones.</param>
/// <param name="At">x and y of the first that is off, or null.</param>
public sealed record NormalFacts(long Covered, long Off, double MeanLength, int[]? At);
