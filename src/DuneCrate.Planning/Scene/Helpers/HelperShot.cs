using DuneCrate.Foundation.Frames;

namespace DuneCrate.Planning.Scene.Helpers;

/// <summary>What helpers are held against.</summary>
/// <param name="Name">The shot.</param>
/// <param name="First">Its first frame.</param>
/// <param name="Last">Its last frame.</param>
/// <param name="Rate">Its rate.</param>
/// <param name="Width">Width of the picture in pixels.</param>
/// <param name="Height">Height.</param>
/// <param name="PixelAspect">Width of a pixel over its height.</param>
/// <param name="Camera">Name of the render camera; empty when none is named.</param>
public sealed record HelperShot(string Name, int First, int Last, FrameRate Rate, int Width, int Height, double PixelAspect, string Camera)
{
    /// <summary>Frames.</summary>
    public int Count => Last - First + 1;

    /// <summary>Frames a second.</summary>
    public double PerSecond => (double)Rate.Numerator / Rate.Denominator;

    /// <summary>Width of the picture over its height, as it is seen.</summary>
    public double Aspect => Width * PixelAspect / Height;
}
