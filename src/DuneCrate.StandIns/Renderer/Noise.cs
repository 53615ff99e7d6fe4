using System.Numerics;

namespace DuneCrate.StandIns.Renderer;

/// <summary>Random numbers as pure functions of their arguments, so that every frame can be rendered again to the bit.</summary>
internal static class Noise
{
    /// <summary>Mixes the bits of a number (the finaliser of MurmurHash3).</summary>
    public static uint Mix(uint n)
    {
        n = (n ^ (n >> 16)) * 0x85ebca6b;
        n = (n ^ (n >> 13)) * 0xc2b2ae35;
        return n ^ (n >> 16);
    }

    /// <summary>A number in 0..1.</summary>
    public static float Unit(uint n) => (Mix(n) >> 8) * (1f / (1 << 24));

    /// <summary>A cosine-weighted direction around a normal.</summary>
    public static Vector3 AroundNormal(Vector3 normal, uint n)
    {
        float turn = 2 * MathF.PI * Unit(n),
            z = 1 - 2 * Unit(n ^ 0x9e3779b9),
            r = MathF.Sqrt(Math.Max(0, 1 - z * z));
        Vector3 direction = normal + new Vector3(r * MathF.Cos(turn), r * MathF.Sin(turn), z);
        return direction.LengthSquared() < 1e-6f ? normal : Vector3.Normalize(direction);
    }

    /// <summary>Smooth value noise over the plane, 0..1.</summary>
    public static float Smooth(float x, float y)
    {
        float fx = MathF.Floor(x),
            fy = MathF.Floor(y),
            u = x - fx,
            v = y - fy;
        u = u * u * (3 - 2 * u);
        v = v * v * (3 - 2 * v);
        uint ix = (uint)(int)fx,
            iy = (uint)(int)fy;
        float At(uint i, uint j) => Unit(unchecked(i * 0x8da6b343 + j * 0xd8163841));
        float top = At(ix, iy) + u * (At(ix + 1, iy) - At(ix, iy)),
            bottom = At(ix, iy + 1) + u * (At(ix + 1, iy + 1) - At(ix, iy + 1));
        return top + v * (bottom - top);
    }
}
