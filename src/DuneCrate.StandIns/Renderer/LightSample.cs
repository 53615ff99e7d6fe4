using System.Numerics;

namespace DuneCrate.StandIns.Renderer;

/// <summary>The light that reaches the camera along one ray, by the way it took. Scene-linear.</summary>
internal struct LightSample
{
    public Vector3 DiffuseDirect,
        DiffuseIndirect,
        Specular,
        Reflection,
        Transmission,
        Emission,
        Background;
    public float Occlusion,
        Shadow;

    public readonly Vector3 Sum => DiffuseDirect + DiffuseIndirect + Specular + Reflection + Transmission + Emission + Background;
}
