using System.Numerics;

namespace DuneCrate.Planning.Scene.Helpers;

/// <summary>
/// Where a camera sees a point. Source: glTF 2.0 specification, 3.10.2: a camera looks along its own −z with +y up; the pinhole
/// projection x' = f · x / −z.
/// </summary>
public static class HelperProjection
{
    /// <summary>A point of the scene in pixels of the picture, from the top left corner; null behind the camera.</summary>
    public static (double X, double Y)? Project(HelperPose camera, HelperLens lens, Vector3 point, HelperShot shot)
    {
        Vector3 seen = Vector3.Transform(point - camera.Place, Quaternion.Inverse(camera.Turn));
        if (seen.Z >= 0)
        {
            return null;
        }

        double half = Math.Tan(lens.VerticalFov / 2);
        double x = seen.X / -seen.Z / (half * (lens.Aspect ?? shot.Aspect)),
            y = seen.Y / -seen.Z / half;
        return ((x + 1) / 2 * shot.Width, (1 - y) / 2 * shot.Height);
    }
}
