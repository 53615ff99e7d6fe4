using System.Collections.Immutable;
using System.Numerics;
using SharpGLTF.Schema2;
using SharpGLTF.Validation;

namespace DuneCrate.Planning.Scene.Helpers;

/// <summary>
/// Helpers out of and into glTF 2.0: cameras, punctual lights, bare leaf nodes as locators, and flat meshes as planes, each with its pose
/// in the scene at every frame. Sources: glTF 2.0 specification (3.5 nodes, 3.10 cameras, 3.11 animations), KHR_lights_punctual.
/// </summary>
public static class HelperGltf
{
    /// <summary>How far a key may lie beside a frame, in frames.</summary>
    private const double MostOff = 0.02;

    private const float Near = 0.01f,
        FlatTo = 1e-3f;

    private static readonly double[] Rates = [24, 24000 / 1001.0, 25, 30, 30000 / 1001.0, 48, 50, 60, 60000 / 1001.0, 12, 15];

    /// <summary>Reads a file's helpers for a shot.</summary>
    /// <exception cref="FormatException">It is no glTF 2.0; the message says why.</exception>
    public static HelperSet Read(Stream stream, HelperShot shot)
    {
        try
        {
            // Flat meshes are told by the positions of their corners, so that buffers in other files are not needed but for those.
            ReadContext context = ReadContext.Create(_ => throw new FormatException("it needs other files; export it as one, .glb"));
            context.Validation = ValidationMode.Skip;
            return Read(context.ReadSchema2(stream), shot);
        }
        catch (Exception e) when (e is not OutOfMemoryException)
        {
            // The library checks references only when they are followed, with whatever exception that throws.
            string why = e is FormatException ? e.Message : "it is damaged or does not follow the format; export it again";
            throw new FormatException($"This is no glTF 2.0 file that can be read: {why}", e);
        }
    }

    private static HelperSet Read(ModelRoot model, HelperShot shot)
    {
        if (model.LogicalNodes.Count > RosterLimits.MaxNodes)
        {
            throw new FormatException($"it has more than {RosterLimits.MaxNodes:N0} nodes; export what the compositor needs");
        }

        var told = new List<string>();
        Animation[] animations = [.. model.LogicalAnimations];
        float[] keys = [.. animations.SelectMany(a => a.Channels).SelectMany(KeysOf).Distinct().Order()];
        double start = StartOf(keys, shot, told);
        var helpers = ImmutableArray.CreateBuilder<SceneHelper>();
        var taken = new HashSet<string>(StringComparer.Ordinal);
        foreach (Node node in model.LogicalNodes)
        {
            if (KindOf(node) is not { } kind)
            {
                continue;
            }

            string name = node.Name ?? $"node_{node.LogicalIndex}";
            for (int n = 2; !taken.Add(name); n++)
            {
                name = $"{node.Name}_{n}";
            }

            if (taken.Count > HelperSet.MostHelpers)
            {
                throw new FormatException($"it has more than {HelperSet.MostHelpers} cameras, lights, locators and planes");
            }

            float[] own =
            [
                .. Upwards(node).SelectMany(n => animations.SelectMany(a => a.Channels).Where(c => c.TargetNode == n)).SelectMany(KeysOf),
            ];
            HelperPose Pose(double seconds) => PoseOf(node, animations, (float)Math.Max(0, seconds));
            var poses = own.Length == 0 ? [Pose(0)] : Enumerable.Range(0, shot.Count).Select(f => Pose(start + f / shot.PerSecond));
            var helper = new SceneHelper(name, kind, [.. poses]) { Lens = LensOf(node), Light = LightOf(node) };
            if (own.Length > 0 && (own.Max() - start) * shot.PerSecond < shot.Count - 1 - MostOff)
            {
                told.Add(
                    $"{name}: its keys end at frame {shot.First + (int)Math.Round((own.Max() - start) * shot.PerSecond)}, the shot goes to "
                        + $"{shot.Last}. Export the whole range."
                );
            }

            helpers.Add(helper.Settled());
        }

        return new HelperSet(helpers.ToImmutable(), [.. told]);
    }

    /// <summary>
    /// The second at which the shot begins: 0 where the export begins there, else that of the first frame's number. Keys that lie on the
    /// frames of another rate are told.
    /// </summary>
    private static double StartOf(float[] keys, HelperShot shot, List<string> told)
    {
        if (keys.Length == 0)
        {
            return 0;
        }

        double byNumber = shot.First / shot.PerSecond;
        double start = shot.First > 0 && keys[0] >= byNumber - 1 / shot.PerSecond ? byNumber : 0;
        bool Fits(double rate) => keys.All(k => Math.Abs(k * rate - Math.Round(k * rate)) <= MostOff);
        if (keys.Length > 1 && !Fits(shot.PerSecond))
        {
            double other = Rates.FirstOrDefault(Fits);
            told.Add(
                other > 0
                    ? FormattableString.Invariant(
                        $"Keys lie on the frames of {other:0.###} a second, the shot runs at {shot.PerSecond:0.###}. "
                    ) + "Export at the rate of the shot."
                    : FormattableString.Invariant(
                        $"Keys lie between the frames of {shot.PerSecond:0.###} a second. Export a key for each frame."
                    )
            );
        }

        return start;
    }

    private static ItemKind? KindOf(Node node) =>
        node.Camera?.Settings is CameraPerspective ? ItemKind.Camera
        : node.PunctualLight is not null ? ItemKind.Light
        : node.Mesh is { } mesh ? (IsFlat(mesh) ? ItemKind.Plane : null)
        : node.VisualChildren.Any() || node.Camera is not null ? null
        : ItemKind.Locator;

    /// <summary>Whether a mesh is a flat piece with four corners.</summary>
    private static bool IsFlat(Mesh mesh)
    {
        if (mesh.Primitives.Count != 1 || mesh.Primitives[0].GetVertexAccessor("POSITION") is not { Count: 4 } corners)
        {
            return false;
        }

        Vector3[] at = [.. corners.AsVector3Array()];
        var normal = Vector3.Cross(at[1] - at[0], at[2] - at[0]);
        return normal.Length() > 0 && Math.Abs(Vector3.Dot(Vector3.Normalize(normal), at[3] - at[0])) < FlatTo;
    }

    private static IEnumerable<Node> Upwards(Node node)
    {
        for (Node? at = node; at is not null; at = at.VisualParent)
        {
            yield return at;
        }
    }

    private static IEnumerable<float> KeysOf(AnimationChannel channel) =>
        channel.TargetNodePath switch
        {
            PropertyPath.translation => KeysOf(channel.GetTranslationSampler()),
            PropertyPath.rotation => KeysOf(channel.GetRotationSampler()),
            PropertyPath.scale => KeysOf(channel.GetScaleSampler()),
            _ => [],
        };

    private static IEnumerable<float> KeysOf<T>(IAnimationSampler<T>? sampler) =>
        sampler is null ? []
        : sampler.InterpolationMode == AnimationInterpolationMode.CUBICSPLINE ? sampler.GetCubicKeys().Select(k => k.Key)
        : sampler.GetLinearKeys().Select(k => k.Key);

    private static HelperPose PoseOf(Node node, Animation[] animations, float seconds)
    {
        Matrix4x4 world = Matrix4x4.Identity;
        foreach (Node at in Upwards(node))
        {
            Animation? moving = animations.FirstOrDefault(a => a.Channels.Any(c => c.TargetNode == at));
            world *= moving is null ? at.LocalMatrix : at.GetLocalTransform(moving, seconds).Matrix;
        }

        return Matrix4x4.Decompose(world, out Vector3 scale, out Quaternion turn, out Vector3 place)
            ? new HelperPose(place, Quaternion.Normalize(turn), scale)
            : throw new FormatException($"{node.Name} is sheared, which nothing that is handed over can be");
    }

    private static HelperLens? LensOf(Node node) =>
        node.Camera?.Settings is CameraPerspective lens ? new HelperLens(lens.VerticalFOV, lens.AspectRatio) : null;

    private static HelperLight? LightOf(Node node) =>
        node.PunctualLight is { } light
            ? new HelperLight(light.LightType.ToString().ToLowerInvariant(), light.Color, light.Intensity)
            : null;

    /// <summary>Writes helpers as a binary glTF 2.0 file whose time begins with the shot's first frame.</summary>
    public static byte[] Write(IReadOnlyCollection<SceneHelper> helpers, HelperShot shot)
    {
        var model = ModelRoot.CreateModel();
        model.Asset.Generator = "Dune Crate";
        SharpGLTF.Schema2.Scene scene = model.UseScene(shot.Name);
        Mesh? square = null;
        Animation? moving = null;
        foreach (SceneHelper helper in helpers)
        {
            Node node = scene.CreateNode(helper.Name);
            HelperPose first = helper.Poses[0];
            node.LocalTransform = new SharpGLTF.Transforms.AffineTransform(first.Scale, first.Turn, first.Place);
            if (helper.Lens is { } lens)
            {
                Camera camera = model.CreateCamera(helper.Name);
                camera.SetPerspectiveMode((float)(lens.Aspect ?? shot.Aspect), (float)lens.VerticalFov, Near, float.PositiveInfinity);
                node.Camera = camera;
            }
            else if (helper.Light is { } given)
            {
                PunctualLight light = model.CreatePunctualLight(
                    helper.Name,
                    Enum.TryParse(given.Type, ignoreCase: true, out PunctualLightType type) ? type : PunctualLightType.Point
                );
                (light.Color, light.Intensity) = (given.Colour, (float)given.Intensity);
                node.PunctualLight = light;
            }
            else if (helper.Kind == ItemKind.Plane)
            {
                node.Mesh = square ??= Square(model);
            }

            if (helper.Moves)
            {
                moving ??= model.CreateAnimation(shot.Name);
                Dictionary<float, T> Keys<T>(Func<HelperPose, T> of) =>
                    helper.Poses.Select((p, i) => (p, i)).ToDictionary(k => (float)(k.i / shot.PerSecond), k => of(k.p));
                moving.CreateTranslationChannel(node, Keys(p => p.Place));
                moving.CreateRotationChannel(node, Keys(p => p.Turn));
                moving.CreateScaleChannel(node, Keys(p => p.Scale));
            }
        }

        using var stream = new MemoryStream();
        model.WriteGLB(stream);
        return stream.ToArray();
    }

    /// <summary>A square of one metre in x and y, facing +z.</summary>
    private static Mesh Square(ModelRoot model)
    {
        Vector3[] corners = [new(-0.5f, -0.5f, 0), new(0.5f, -0.5f, 0), new(0.5f, 0.5f, 0), new(-0.5f, 0.5f, 0)];
        ushort[] faces = [0, 1, 2, 0, 2, 3];
        byte[] cornerBytes = System.Runtime.InteropServices.MemoryMarshal.AsBytes(corners.AsSpan()).ToArray(),
            faceBytes = System.Runtime.InteropServices.MemoryMarshal.AsBytes(faces.AsSpan()).ToArray();
        Accessor positions = model.CreateAccessor(),
            indices = model.CreateAccessor();
        positions.SetVertexData(
            model.UseBufferView(new ArraySegment<byte>(cornerBytes), 12, BufferMode.ARRAY_BUFFER),
            0,
            corners.Length,
            new SharpGLTF.Memory.AttributeFormat(DimensionType.VEC3, EncodingType.FLOAT)
        );
        indices.SetIndexData(
            model.UseBufferView(new ArraySegment<byte>(faceBytes), 0, BufferMode.ELEMENT_ARRAY_BUFFER),
            0,
            faces.Length,
            IndexEncodingType.UNSIGNED_SHORT
        );
        Mesh mesh = model.CreateMesh("plane");
        MeshPrimitive primitive = mesh.CreatePrimitive();
        primitive.SetVertexAccessor("POSITION", positions);
        primitive.SetIndexAccessor(indices);
        primitive.DrawPrimitiveType = PrimitiveType.TRIANGLES;
        return mesh;
    }
}
