namespace DuneCrate.Exr;

/// <summary>Width of a pixel over its height.</summary>
public static class PixelAspect
{
    private const double Least = 1e-6,
        Most = 1e6;

    /// <summary>Whether a pixel can be so wide for its height. Source: OpenEXR's <c>Header::sanityCheck</c>, whose bounds these
    /// are.</summary>
    public static bool Is(double ratio) => ratio is >= Least and <= Most;
}
