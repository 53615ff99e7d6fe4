namespace DuneCrate.Imaging.Stacking.Looks;

/// <summary>
/// How large a point out of focus becomes on the film: the circle of confusion of a thin lens. Source: Potmesil and Chakravarty,
/// <em>A Lens and Aperture Camera Model for Synthetic Image Generation</em>, 1981. Lengths in millimetres.
/// </summary>
/// <param name="FocalLength">Focal length f.</param>
/// <param name="FStop">f-number N; the aperture is f / N wide.</param>
/// <param name="FocusDistance">Distance from the lens to what is sharp.</param>
public readonly record struct ThinLens(double FocalLength, double FStop, double FocusDistance)
{
    /// <summary>Diameter of the circle of a point at a distance, positive on both sides of the focus; 0 at distances that are
    /// none.</summary>
    public double CircleAt(double distance) =>
        distance > 0
            ? FocalLength / FStop * Math.Abs(distance - FocusDistance) / distance * FocalLength / (FocusDistance - FocalLength)
            : 0;

    /// <summary>The circle at infinity, which those of far points come near to.</summary>
    public double CircleAtInfinity => FocalLength / FStop * FocalLength / (FocusDistance - FocalLength);

    /// <summary>Circles in pixels of every sample of a depth pass.</summary>
    /// <param name="look">The lens.</param>
    /// <param name="depth">Distances in the pass's units.</param>
    /// <param name="width">Samples across, which the film's width stands for.</param>
    /// <param name="circles">Diameters in samples.</param>
    public static void Circles(StripLook look, ReadOnlySpan<float> depth, int width, Span<float> circles)
    {
        double millimetres = 1000 * look.UnitMetres;
        var lens = new ThinLens(look.FocalLength, look.FStop, look.FocusDistance * millimetres);
        for (int i = 0; i < circles.Length; i++)
        {
            double distance = depth[i] * millimetres,
                circle = double.IsFinite(distance) ? lens.CircleAt(distance) : lens.CircleAtInfinity;
            circles[i] = (float)(circle / look.FilmWidth * width);
        }
    }
}
