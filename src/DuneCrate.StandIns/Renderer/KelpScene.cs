using System.Numerics;

namespace DuneCrate.StandIns.Renderer;

/// <summary>
/// <em>The Kelp Post</em> at one frame: a mail submarine with a glass dome and lamps between kelp, over a seabed at dusk. Units are
/// metres, y is up, the seabed is y = 0. Deterministic: a function of shot and frame alone.
/// </summary>
internal sealed class KelpScene
{
    public const int SeabedShape = -1,
        NoShape = -2;
    public const float Far = 1000;

    public static readonly KelpItem[] Items =
    [
        new("hull", 1, "sub", new Material(new Vector3(0.62f, 0.16f, 0.07f), Gloss: 0.6f, Mirror: 0.08f)),
        new("dome", 2, "sub", new Material(new Vector3(0.02f), Gloss: 1f, Mirror: 0.12f, IsGlass: true)),
        new("lamps", 3, "sub", new Material(new Vector3(0.1f), Emits: new Vector3(9, 6.4f, 3.1f))),
        new("fins", 4, "sub", new Material(new Vector3(0.13f, 0.16f, 0.19f), Gloss: 0.35f, Mirror: 0.05f)),
        new("mail_sack", 5, "sub", new Material(new Vector3(0.5f, 0.38f, 0.2f))),
        new("kelp", 6, "kelp", new Material(new Vector3(0.11f, 0.2f, 0.045f), Gloss: 0.25f)),
        new("seabed", 7, "seabed", new Material(new Vector3(0.42f, 0.35f, 0.25f))),
    ];

    public static readonly Vector3 SunDirection = Vector3.Normalize(new Vector3(-0.5f, 0.72f, -0.42f));
    public static readonly Vector3 SunColour = new(1.25f, 0.9f, 0.62f);
    public static readonly Vector3 LampColour = new(2.6f, 1.9f, 1.0f);

    private readonly List<Ellipsoid> _shapes = [];
    private readonly List<Cluster> _clusters = [];

    private readonly IReadOnlySet<string> _hidden;

    /// <summary>The scene of a shot at a frame; items named in <paramref name="hidden"/> are not there.</summary>
    public KelpScene(string shot, int frame, IReadOnlySet<string>? hidden = null)
    {
        _hidden = hidden ?? new HashSet<string>();
        int seed = shot.Aggregate(17, (h, c) => unchecked(h * 31 + c)) & 0xffff;
        float time = (frame - 1001) / 24f,
            variety = seed % 100 / 100f;
        AddSub(
            new Vector3(-1.6f + variety * 1.2f + 0.85f * time, 1.75f + 0.12f * MathF.Sin(2.1f * time + variety * 6), 0.2f - variety * 0.5f)
        );
        AddKelp(seed, time);
        Shapes = [.. _shapes];
        Clusters = [.. _clusters];
        Vector3 eye = new(-0.5f + 0.25f * time + variety, 1.75f + variety * 0.4f, -7.2f);
        Camera = new Pinhole(eye, new Vector3(0.2f + 0.35f * time, 1.55f, 0));
    }

    public Ellipsoid[] Shapes { get; }

    public Cluster[] Clusters { get; }

    public Vector3[] Lamps { get; private set; } = [];

    public Pinhole Camera { get; }

    public static KelpItem ItemOf(KelpScene scene, int shape) => Items[shape == SeabedShape ? 6 : scene.Shapes[shape].Item];

    private void AddSub(Vector3 at)
    {
        int first = _shapes.Count;
        void Add(int item, float x, float y, float z, float rx, float ry, float rz) =>
            Put(new Ellipsoid(at + new Vector3(x, y, z), new Vector3(rx, ry, rz), item));
        Add(0, 0, 0, 0, 1.55f, 0.62f, 0.62f);
        Add(0, -0.35f, 0.66f, 0, 0.38f, 0.3f, 0.2f);
        Add(3, -1.5f, 0.42f, 0, 0.3f, 0.42f, 0.05f);
        Add(3, -1.5f, 0, 0.45f, 0.28f, 0.05f, 0.45f);
        Add(3, -1.5f, 0, -0.45f, 0.28f, 0.05f, 0.45f);
        Add(3, 0.1f, -0.62f, -0.3f, 0.7f, 0.08f, 0.08f);
        Add(1, 0.72f, 0.42f, 0, 0.52f, 0.5f, 0.5f);
        Add(4, 0.72f, 0.5f, 0, 0.24f, 0.28f, 0.24f);
        Add(2, 1.42f, -0.12f, -0.42f, 0.13f, 0.13f, 0.13f);
        Add(2, 1.42f, -0.12f, 0.42f, 0.13f, 0.13f, 0.13f);
        Lamps = [at + new Vector3(1.72f, -0.17f, -0.42f), at + new Vector3(1.72f, -0.17f, 0.42f)];
        CloseCluster(first);
    }

    private void AddKelp(int seed, float time)
    {
        for (int stalk = 0; stalk < 9; stalk++)
        {
            float Random(int n) => Noise.Unit((uint)(seed * 131 + stalk * 17 + n));
            var root = new Vector3(-5.2f + stalk * 1.25f + Random(1), 0, stalk % 3 == 0 ? -2.3f - Random(2) : 1.4f + 2.6f * Random(2));
            int first = _shapes.Count,
                joints = 5 + (int)(3 * Random(3));
            for (int j = 0; j < joints; j++)
            {
                float sway = 0.05f * j * j * MathF.Sin(1.3f * time + stalk + 0.35f * j) * 0.55f;
                Vector3 at = root + new Vector3(sway, 0.3f + 0.56f * j, 0.4f * sway);
                Put(new Ellipsoid(at, new Vector3(0.055f, 0.34f, 0.055f), 5));
                float side = j % 2 == 0 ? 1 : -1;
                Put(
                    new Ellipsoid(
                        at + new Vector3(side * 0.24f, 0.1f, 0.05f * side),
                        new Vector3(0.25f, 0.085f + 0.04f * Random(4 + j), 0.05f),
                        5
                    )
                );
            }

            CloseCluster(first);
        }
    }

    private void Put(Ellipsoid shape)
    {
        if (!_hidden.Contains(Items[shape.Item].Name))
        {
            _shapes.Add(shape);
        }
    }

    private void CloseCluster(int first)
    {
        Vector3 low = new(float.MaxValue),
            high = new(float.MinValue);
        foreach (Ellipsoid shape in _shapes[first..])
        {
            (low, high) = (Vector3.Min(low, shape.Center - shape.Radii), Vector3.Max(high, shape.Center + shape.Radii));
        }

        _clusters.Add(new Cluster(low, high, first, _shapes.Count));
    }

    /// <summary>
    /// The nearest hit of the shapes that <paramref name="layers"/> allows; with <paramref name="anyHit"/> the first opaque one found, for
    /// shadows.
    /// </summary>
    public Hit Trace(Vector3 from, Vector3 direction, LayerMask layers, int skip = NoShape, bool anyHit = false)
    {
        float best = Far;
        int shape = NoShape;
        if ((layers & LayerMask.Seabed) != 0 && direction.Y < -1e-5f)
        {
            float distance = -from.Y / direction.Y;
            if (distance > 1e-3f && distance < best)
            {
                (best, shape) = (distance, SeabedShape);
            }
        }

        Vector3 inverse = Vector3.One / direction;
        for (int c = 0; c < Clusters.Length; c++)
        {
            if ((layers & (c == 0 ? LayerMask.Sub : LayerMask.Kelp)) == 0)
            {
                continue;
            }

            ref readonly Cluster cluster = ref Clusters[c];
            Vector3 toLow = (cluster.Low - from) * inverse,
                toHigh = (cluster.High - from) * inverse;
            Vector3 nearest = Vector3.Min(toLow, toHigh),
                farthest = Vector3.Max(toLow, toHigh);
            float enter = MathF.Max(MathF.Max(nearest.X, nearest.Y), nearest.Z),
                leave = MathF.Min(MathF.Min(farthest.X, farthest.Y), farthest.Z);
            if (leave < 0 || enter > leave || enter > best)
            {
                continue;
            }

            for (int s = cluster.First; s < cluster.Last; s++)
            {
                float distance = s == skip ? 0 : Intersect(Shapes[s], from, direction);
                if (distance > 1e-3f && distance < best)
                {
                    (best, shape) = (distance, s);
                    if (anyHit && !Items[Shapes[s].Item].Material.IsGlass)
                    {
                        return new Hit(best, shape, from, direction);
                    }
                }
            }
        }

        Vector3 point = from + direction * best;
        Vector3 normal = shape switch
        {
            NoShape => Vector3.Zero,
            SeabedShape => SeabedNormal(point),
            _ => Vector3.Normalize((point - Shapes[shape].Center) / (Shapes[shape].Radii * Shapes[shape].Radii)),
        };
        return new Hit(best, shape, point, normal);
    }

    /// <summary>How much of the light along a ray the water between has replaced by its own, for the seabed's far parts.</summary>
    public static float Haze(float distance) => 1 - MathF.Exp(-0.07f * Math.Max(0, distance - 7));

    private static float Intersect(in Ellipsoid e, Vector3 from, Vector3 direction)
    {
        Vector3 o = (from - e.Center) / e.Radii,
            d = direction / e.Radii;
        float a = Vector3.Dot(d, d),
            b = Vector3.Dot(o, d),
            c = Vector3.Dot(o, o) - 1,
            root = b * b - a * c;
        if (root < 0)
        {
            return 0;
        }

        root = MathF.Sqrt(root);
        float near = (-b - root) / a;
        return near > 1e-3f ? near : (-b + root) / a;
    }

    private static Vector3 SeabedNormal(Vector3 p)
    {
        float dx = Noise.Smooth(p.X * 3 + 0.15f, p.Z * 3) - Noise.Smooth(p.X * 3 - 0.15f, p.Z * 3);
        float dz = Noise.Smooth(p.X * 3, p.Z * 3 + 0.15f) - Noise.Smooth(p.X * 3, p.Z * 3 - 0.15f);
        return Vector3.Normalize(new Vector3(-0.7f * dx, 1, -0.7f * dz));
    }

    /// <summary>What a ray sees that meets nothing: water at dusk, darker towards the deep.</summary>
    public static Vector3 Water(Vector3 direction)
    {
        float up = Math.Clamp(direction.Y * 1.4f + 0.25f, 0, 1);
        return Vector3.Lerp(new Vector3(0.012f, 0.05f, 0.075f), new Vector3(0.16f, 0.21f, 0.24f), up * up)
            + new Vector3(0.22f, 0.1f, 0.03f) * MathF.Pow(Math.Max(0, Vector3.Dot(direction, SunDirection)), 8);
    }
}
