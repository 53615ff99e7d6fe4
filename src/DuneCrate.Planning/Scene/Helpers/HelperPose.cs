using System.Numerics;

namespace DuneCrate.Planning.Scene.Helpers;

/// <summary>Where something is and how it is turned, in the scene: metres, right-handed, y up.</summary>
/// <param name="Place">Its place.</param>
/// <param name="Turn">How it is turned; a unit quaternion.</param>
/// <param name="Scale">Its scale along its own axes.</param>
public readonly record struct HelperPose(Vector3 Place, Quaternion Turn, Vector3 Scale)
{
    /// <summary>At the origin, as it is.</summary>
    public static readonly HelperPose None = new(Vector3.Zero, Quaternion.Identity, Vector3.One);

    /// <summary>The distance below which two poses are one: a hundredth of a millimetre, a thousandth of a degree.</summary>
    private const float Same = 1e-5f;

    /// <summary>The pose with an offset laid over it: moved in the scene, turned after its own turn, scaled along its axes.</summary>
    public HelperPose With(HelperPose offset) => new(Place + offset.Place, Quaternion.Normalize(offset.Turn * Turn), Scale * offset.Scale);

    /// <summary>The offset that leads from another pose to this one.</summary>
    public HelperPose From(HelperPose other) =>
        new(Place - other.Place, Quaternion.Normalize(Turn * Quaternion.Inverse(other.Turn)), Ratio(Scale, other.Scale));

    /// <summary>Whether it moves nothing, as an offset.</summary>
    public bool IsNothing => Place.Length() < Same && Math.Abs(Math.Abs(Turn.W) - 1) < Same * Same && (Scale - Vector3.One).Length() < Same;

    private static Vector3 Ratio(Vector3 one, Vector3 other) =>
        new(other.X == 0 ? 1 : one.X / other.X, other.Y == 0 ? 1 : one.Y / other.Y, other.Z == 0 ? 1 : one.Z / other.Z);
}
