namespace DuneCrate.Imaging.Stacking;

/// <summary>A line where it lies in planes that are kept; not to be changed.</summary>
/// <param name="Colour">Planes of red, green and blue.</param>
/// <param name="Alpha">The plane of alpha.</param>
/// <param name="From">Where the line begins in each.</param>
internal readonly record struct KeptLine(float[][] Colour, float[] Alpha, int From);
