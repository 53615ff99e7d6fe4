using System.Numerics;

namespace DuneCrate.StandIns.Renderer;

/// <summary>Follows rays through the scene.</summary>
internal sealed class LightTransport(KelpScene scene)
{
    private const float OcclusionReach = 2.5f;

    /// <summary>The light from a hit, seen along a direction. <paramref name="seed"/> drives every random choice.</summary>
    public LightSample Shade(in Hit hit, Vector3 direction, uint seed)
    {
        KelpItem item = KelpScene.ItemOf(scene, hit.Shape);
        Material material = item.Material;
        Vector3 albedo = Albedo(hit, material),
            normal = hit.Normal,
            view = -direction,
            start = hit.Point + normal * 2e-3f;
        var light = new LightSample { Emission = material.Emits };
        float facing = Vector3.Dot(normal, KelpScene.SunDirection);
        bool sees =
            facing > 0
            && scene.Trace(start, KelpScene.SunDirection, LayerMask.Sub | LayerMask.Kelp, anyHit: true).Shape is var s
            && (s == KelpScene.NoShape || IsTransparent(s));
        light.Shadow = sees || facing <= 0 ? 1 : 0;
        if (sees)
        {
            light.DiffuseDirect += albedo * KelpScene.SunColour * facing;
            light.Specular += KelpScene.SunColour * Highlight(normal, view, KelpScene.SunDirection, material.Gloss);
        }

        foreach (Vector3 lamp in scene.Lamps)
        {
            Vector3 to = lamp - hit.Point;
            float squared = to.LengthSquared();
            Vector3 toward = to / MathF.Sqrt(squared);
            float cosine = Vector3.Dot(normal, toward);
            if (cosine > 0 && material.Emits == default)
            {
                Vector3 arriving = KelpScene.LampColour * (cosine / (1 + squared));
                light.DiffuseDirect += albedo * arriving;
                light.Specular += arriving * Highlight(normal, view, toward, material.Gloss);
            }
        }

        Vector3 bounce = Noise.AroundNormal(normal, seed);
        Hit second = scene.Trace(start, bounce, LayerMask.All);
        light.Occlusion =
            second.Shape == KelpScene.NoShape || second.Distance > OcclusionReach ? 1 : second.Distance / OcclusionReach * 0.6f;
        light.DiffuseIndirect =
            albedo * (second.Shape == KelpScene.NoShape ? KelpScene.Water(bounce) : Simple(second, withEmission: false));

        if (material.Mirror > 0)
        {
            float grazing = 1 - Math.Clamp(Vector3.Dot(normal, view), 0, 1);
            float fresnel = material.Mirror + (1 - material.Mirror) * grazing * grazing * grazing * grazing * grazing;
            Vector3 mirrored = Vector3.Reflect(direction, normal);
            Hit seen = scene.Trace(start, mirrored, LayerMask.All, hit.Shape);
            light.Reflection = fresnel * (seen.Shape == KelpScene.NoShape ? KelpScene.Water(mirrored) : Simple(seen));
            if (material.IsGlass)
            {
                // Thin glass: straight on, past the dome itself, tinted a little.
                Hit behind = scene.Trace(hit.Point + direction * 2e-3f, direction, LayerMask.All, hit.Shape);
                light.Transmission =
                    (1 - fresnel)
                    * new Vector3(0.86f, 0.93f, 0.92f)
                    * (behind.Shape == KelpScene.NoShape ? KelpScene.Water(direction) : Simple(behind));
            }
        }

        return light;
    }

    private bool IsTransparent(int shape) => KelpScene.ItemOf(scene, shape).Material.IsGlass;

    /// <summary>
    /// Light from a point seen indirectly: sun without shadow test, a constant share of water light, and emission unless the lamps
    /// are already counted as lights.
    /// </summary>
    private Vector3 Simple(in Hit hit, bool withEmission = true)
    {
        Material material = KelpScene.ItemOf(scene, hit.Shape).Material;
        float sun = Math.Max(0, Vector3.Dot(hit.Normal, KelpScene.SunDirection));
        return (withEmission ? material.Emits : Vector3.Zero)
            + Albedo(hit, material) * (KelpScene.SunColour * (0.8f * sun) + new Vector3(0.07f, 0.1f, 0.12f));
    }

    private static Vector3 Albedo(in Hit hit, Material material) =>
        hit.Shape == KelpScene.SeabedShape
            ? material.Albedo
                * (
                    0.55f
                    + 0.3f * Noise.Smooth(hit.Point.X * 1.3f, hit.Point.Z * 1.3f)
                    + 0.25f * Noise.Smooth(hit.Point.X * 9, hit.Point.Z * 9)
                )
            : material.Albedo * (0.9f + 0.2f * Noise.Smooth(hit.Point.X * 7, hit.Point.Y * 7));

    /// <summary>Normalised Blinn-Phong highlight.</summary>
    private static float Highlight(Vector3 normal, Vector3 view, Vector3 light, float gloss)
    {
        if (gloss <= 0)
        {
            return 0;
        }

        float power = 8 + 120 * gloss * gloss;
        return gloss * 0.04f * (power + 8) / 8 * MathF.Pow(Math.Max(0, Vector3.Dot(normal, Vector3.Normalize(view + light))), power);
    }
}
