namespace DuneCrate.Core.Intake.Measures;

/// <summary>How colour goes with alpha.</summary>
/// <param name="Empty">Pixels whose alpha is 0.</param>
/// <param name="Lit">Those of them with colour above 0.001 that is neither emission nor reflection.</param>
/// <param name="Soft">Pixels whose alpha is between 0.02 and 0.98.</param>
/// <param name="Above">Those of them whose colour exceeds their alpha.</param>
/// <param name="At">x and y of the first lit one, or null.</param>
public sealed record AlphaFacts(long Empty, long Lit, long Soft, long Above, int[]? At);
