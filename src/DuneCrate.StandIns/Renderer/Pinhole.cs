using System.Numerics;

namespace DuneCrate.StandIns.Renderer;

/// <summary>A pinhole camera.</summary>
internal sealed class Pinhole
{
    private const float FocalWidths = 1.25f;
    private readonly Vector3 _right,
        _up,
        _forward;

    public Pinhole(Vector3 eye, Vector3 target)
    {
        Eye = eye;
        _forward = Vector3.Normalize(target - eye);
        _right = Vector3.Normalize(Vector3.Cross(Vector3.UnitY, _forward));
        _up = Vector3.Cross(_forward, _right);
    }

    public Vector3 Eye { get; }

    /// <summary>Axes of the camera in the scene: to the right, up, and where it looks.</summary>
    public (Vector3 Right, Vector3 Up, Vector3 Forward) Axes => (_right, _up, _forward);

    /// <summary>Vertical field of view in radians.</summary>
    public static double VerticalFov(int width, int height) => 2 * Math.Atan(height / (2.0 * FocalWidths * width));

    /// <summary>The ray through a point of the picture, in pixels from the top left.</summary>
    public Vector3 Ray(float x, float y, int width, int height) =>
        Vector3.Normalize(_forward * FocalWidths * width + _right * (x - width / 2f) - _up * (y - height / 2f));

    /// <summary>Where a point of the scene is seen, in pixels from the top left, and its depth along the view.</summary>
    public (float X, float Y, float Depth) Project(Vector3 point, int width, int height)
    {
        Vector3 to = point - Eye;
        float depth = Vector3.Dot(to, _forward);
        return (
            width / 2f + FocalWidths * width * Vector3.Dot(to, _right) / depth,
            height / 2f - FocalWidths * width * Vector3.Dot(to, _up) / depth,
            depth
        );
    }
}
