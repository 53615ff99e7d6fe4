using System.Numerics;
using DuneCrate.Exr;
using DuneCrate.Imaging.Cryptomatte;

namespace DuneCrate.StandIns.Renderer;

/// <summary>
/// Renders one layer at one frame into planes of a float for each pixel of a window, top line first, by channel name. The window may go
/// beyond the picture. Colour is filtered over
/// 2 × 2 samples; data and identity are taken at the pixel's centre, unfiltered. The light passes sum to the beauty by construction.
/// </summary>
internal static class FrameRenderer
{
    private const int Grid = 2,
        Samples = Grid * Grid;

    private static readonly string[] LightPasses =
    [
        "direct_diffuse",
        "indirect_diffuse",
        "specular",
        "reflection",
        "refraction",
        "emission",
        "background",
    ];
    private static readonly float[] CryptoIds = [.. KelpScene.Items.Select(i => CryptomatteHash.ToFloat(CryptomatteHash.OfName(i.Name)))];

    /// <summary>
    /// Renders. <paramref name="layer"/> is sub, kelp or seabed; sub and kelp hold each other out. Null is all of them in one picture, as
    /// no
    /// stack could do better: each surface is lit as in its own layer, by the same random choices. Hidden items are not there.
    /// </summary>
    public static Dictionary<string, float[]> Render(
        string shot,
        int frame,
        string? layer,
        int width,
        int height,
        int overscan,
        IReadOnlySet<string>? hidden = null
    )
    {
        var scene = new KelpScene(shot, frame, hidden);
        var next = new KelpScene(shot, frame + 1, hidden);
        var transport = new LightTransport(scene);
        PixelBox window = PixelBox.OfSize(width, height).Grown(overscan);
        var planes = new PlaneSet((int)(window.Width * window.Height));
        LayerMask primary = layer == "seabed" ? LayerMask.Seabed : LayerMask.All;
        uint[] seeds = [.. KelpScene.Items.Select(i => SeedOf(shot, frame, i.Layer))];
        Span<int> items = stackalloc int[Samples];
        Span<Vector3> rays = stackalloc Vector3[Samples];
        Span<Hit> hits = stackalloc Hit[Samples];
        for (int y = window.MinY, at = 0; y <= window.MaxY; y++)
        {
            for (int x = window.MinX; x <= window.MaxX; x++, at++)
            {
                var sum = new LightSample();
                int covered = 0;
                float occlusion = 0,
                    shadow = 0;
                bool isFlat = true;
                for (int s = 0; s < Samples; s++)
                {
                    rays[s] = scene.Camera.Ray(x + (s % Grid + 0.5f) / Grid, y + (s / Grid + 0.5f) / Grid, width, height);
                    hits[s] = scene.Trace(scene.Camera.Eye, rays[s], primary);
                    isFlat &= hits[s].Shape == hits[0].Shape;
                    items[s] =
                        hits[s].Shape != KelpScene.NoShape && IsIn(layer, KelpScene.ItemOf(scene, hits[s].Shape))
                            ? KelpScene.ItemOf(scene, hits[s].Shape).Id - 1
                            : -1;
                }

                // Inside one shape the two samples on the diagonal stand for all four.
                for (int s = 0; s < Samples; s += isFlat ? Samples - 1 : 1)
                {
                    float weight = isFlat ? Samples / 2 : 1;
                    if (items[s] < 0)
                    {
                        (occlusion, shadow) = (occlusion + weight, shadow + weight);
                        sum.Background += layer is null or "seabed" ? weight * KelpScene.Water(rays[s]) : default;
                        continue;
                    }

                    LightSample light = transport.Shade(hits[s], rays[s], seeds[items[s]] ^ Noise.Mix((uint)(at * Samples + s)));
                    float haze = hits[s].Shape == KelpScene.SeabedShape ? KelpScene.Haze(hits[s].Distance) : 0;
                    Add(ref sum, light, weight * (1 - haze));
                    sum.Background += weight * haze * KelpScene.Water(rays[s] with { Y = Math.Max(rays[s].Y, 0.02f) });
                    (occlusion, shadow, covered) = (
                        occlusion + weight * light.Occlusion,
                        shadow + weight * light.Shadow,
                        covered + (int)weight
                    );
                }

                WriteColour(planes, at, sum, covered, occlusion, shadow, items);
                WriteData(planes, at, x, y, width, height, layer, primary, scene, next);
            }
        }

        return planes.Planes;
    }

    private static bool IsIn(string? layer, KelpItem item) => layer is null || item.Layer == layer;

    private static uint SeedOf(string shot, int frame, string layer) =>
        Noise.Mix((uint)frame * 2654435761u ^ (uint)(layer[0] * 7919 + shot[^2]));

    private static void Add(ref LightSample sum, in LightSample light, float share)
    {
        sum.DiffuseDirect += share * light.DiffuseDirect;
        sum.DiffuseIndirect += share * light.DiffuseIndirect;
        sum.Specular += share * light.Specular;
        sum.Reflection += share * light.Reflection;
        sum.Transmission += share * light.Transmission;
        sum.Emission += share * light.Emission;
    }

    private static void WriteColour(
        PlaneSet planes,
        int at,
        in LightSample sum,
        int covered,
        float occlusion,
        float shadow,
        ReadOnlySpan<int> items
    )
    {
        ReadOnlySpan<Vector3> lights =
        [
            sum.DiffuseDirect,
            sum.DiffuseIndirect,
            sum.Specular,
            sum.Reflection,
            sum.Transmission,
            sum.Emission,
            sum.Background,
        ];
        for (int i = 0; i < lights.Length; i++)
        {
            PlaneSet.Set(planes.Lights[i], at, lights[i] / Samples);
        }

        PlaneSet.Set(planes.Beauty, at, sum.Sum / Samples);
        planes.Alpha[0][at] = (float)covered / Samples;
        planes.Occlusion[0][at] = occlusion / Samples;
        planes.Shadow[0][at] = shadow / Samples;
        if (covered == 0)
        {
            return;
        }

        Span<float> coverage = stackalloc float[KelpScene.Items.Length];
        foreach (int item in items)
        {
            if (item >= 0)
            {
                coverage[item] += 1f / Samples;
            }
        }

        for (int m = 0; m < planes.Matte.Length; m++)
        {
            planes.Matte[m][at] = coverage[m];
        }

        for (int rank = 0; rank < Samples; rank++)
        {
            int best = -1;
            for (int i = 0; i < coverage.Length; i++)
            {
                if (coverage[i] > 0 && (best < 0 || coverage[i] > coverage[best]))
                {
                    best = i;
                }
            }

            if (best < 0)
            {
                break;
            }

            planes.Crypto[2 * rank][at] = CryptoIds[best];
            planes.Crypto[2 * rank + 1][at] = coverage[best];
            coverage[best] = 0;
        }
    }

    private static void WriteData(
        PlaneSet planes,
        int at,
        int x,
        int y,
        int width,
        int height,
        string? layer,
        LayerMask primary,
        KelpScene scene,
        KelpScene next
    )
    {
        Vector3 ray = scene.Camera.Ray(x + 0.5f, y + 0.5f, width, height);
        Hit hit = scene.Trace(scene.Camera.Eye, ray, primary);
        planes.Depth[0][at] = KelpScene.Far;
        if (hit.Shape == KelpScene.NoShape || !IsIn(layer, KelpScene.ItemOf(scene, hit.Shape)))
        {
            return;
        }

        bool isSeabed = hit.Shape == KelpScene.SeabedShape;
        Vector3 moved = isSeabed ? hit.Point : hit.Point + next.Shapes[hit.Shape].Center - scene.Shapes[hit.Shape].Center;
        (float px, float py, float depth) = scene.Camera.Project(hit.Point, width, height);
        (float nx, float ny, _) = next.Camera.Project(moved, width, height);
        planes.Depth[0][at] = depth;
        (planes.Motion[0][at], planes.Motion[1][at]) = (nx - px, ny - py);
        PlaneSet.Set(planes.Normal, at, hit.Normal);
        PlaneSet.Set(planes.Position, at, hit.Point);
        planes.Uv[0][at] = isSeabed
            ? hit.Point.X / 4 - MathF.Floor(hit.Point.X / 4)
            : MathF.Atan2(hit.Normal.Z, hit.Normal.X) / (2 * MathF.PI) + 0.5f;
        planes.Uv[1][at] = isSeabed
            ? hit.Point.Z / 4 - MathF.Floor(hit.Point.Z / 4)
            : MathF.Acos(Math.Clamp(hit.Normal.Y, -1, 1)) / MathF.PI;
        planes.ObjectId[0][at] = KelpScene.ItemOf(scene, hit.Shape).Id;
    }

    /// <summary>The planes of one layer frame, by pass.</summary>
    private sealed class PlaneSet(int size)
    {
        private readonly Dictionary<string, float[]> _planes = [];

        public float[][] Beauty => field ??= Make("R", "G", "B");

        public float[][] Alpha => field ??= Make("A");

        public float[][][] Lights => field ??= [.. LightPasses.Select(p => Make($"{p}.R", $"{p}.G", $"{p}.B"))];

        public float[][] Occlusion => field ??= Make("ao.Y");

        public float[][] Shadow => field ??= Make("shadow.Y");

        public float[][] Matte => field ??= Make("matte.sub.R", "matte.sub.G", "matte.sub.B");

        public float[][] Crypto => field ??= Make([.. Enumerable.Range(0, 8).Select(i => $"CryptoObject0{i / 4}.{"RGBA"[i % 4]}")]);

        public float[][] Depth => field ??= Make("Z");

        public float[][] Normal => field ??= Make("normal.X", "normal.Y", "normal.Z");

        public float[][] Position => field ??= Make("position.X", "position.Y", "position.Z");

        public float[][] Uv => field ??= Make("uv.U", "uv.V");

        public float[][] Motion => field ??= Make("motion.X", "motion.Y");

        public float[][] ObjectId => field ??= Make("object_id.Y");

        /// <summary>Every plane by channel name.</summary>
        public Dictionary<string, float[]> Planes => _planes;

        public static void Set(float[][] planes, int at, Vector3 value) =>
            (planes[0][at], planes[1][at], planes[2][at]) = (value.X, value.Y, value.Z);

        private float[][] Make(params string[] channels) => [.. channels.Select(c => _planes[c] = new float[size])];
    }
}
