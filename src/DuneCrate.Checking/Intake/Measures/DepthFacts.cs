namespace DuneCrate.Checking.Intake.Measures;

/// <summary>Distances of a depth pass, in scene units.</summary>
/// <param name="Background">The distance that stands for nothing being there, or null when none does.</param>
/// <param name="BackgroundPixels">Pixels at it.</param>
/// <param name="Nearest">The least distance.</param>
/// <param name="Farthest">The greatest below the background, within 1/128 of itself.</param>
/// <param name="Edges">Pixels between two flat neighbourhoods of different distance.</param>
/// <param name="Between">Those of them that lie on neither side.</param>
/// <param name="At">x and y of the first of those, or null.</param>
public sealed record DepthFacts(
    double? Background,
    long BackgroundPixels,
    double Nearest,
    double Farthest,
    long Edges,
    long Between,
    int[]? At
);
