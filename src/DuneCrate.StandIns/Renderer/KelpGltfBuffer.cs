using System.Numerics;
using System.Text.Json.Nodes;

namespace DuneCrate.StandIns.Renderer;

/// <summary>
/// The numbers of the scene: one buffer with the octahedron that every ellipsoid is, the two times of the animation, and where what
/// moves is at both, with the views and accessors that say where each stands. Source: glTF 2.0, sections 3.6 and 3.11.
/// </summary>
internal sealed class KelpGltfBuffer : IDisposable
{
    private const int Float = 5126,
        UnsignedShort = 5123,
        Vertices = 34962,
        Indices = 34963,
        Times = 2;

    private static readonly Vector3[] Corners = [new(1, 0, 0), new(-1, 0, 0), new(0, 1, 0), new(0, -1, 0), new(0, 0, 1), new(0, 0, -1)];
    private static readonly ushort[] Faces = [0, 2, 4, 2, 1, 4, 1, 3, 4, 3, 0, 4, 2, 0, 5, 1, 2, 5, 3, 1, 5, 0, 3, 5];

    private readonly MemoryStream _bytes = new();
    private readonly BinaryWriter _writer;
    private readonly JsonArray _samplers = [],
        _channels = [];

    public KelpGltfBuffer()
    {
        _writer = new BinaryWriter(_bytes);
        int corners = Add(Float, Corners.Length, "VEC3", () => Array.ForEach(Corners, Put), Vertices);
        (Accessors[corners]!["min"], Accessors[corners]!["max"]) = (Gltf.Numbers(-1, -1, -1), Gltf.Numbers(1, 1, 1));
        Add(UnsignedShort, Faces.Length, "SCALAR", () => Array.ForEach(Faces, _writer.Write), Indices);
        int times = Add(
            Float,
            2,
            "SCALAR",
            () =>
            {
                _writer.Write(0f);
                _writer.Write(1 / 24f);
            }
        );
        (Accessors[times]!["min"], Accessors[times]!["max"]) = (Gltf.Numbers(0), Gltf.Numbers(1 / 24f));
    }

    /// <summary>What stands in each view: type, count, bounds.</summary>
    public JsonArray Accessors { get; } = [];

    /// <summary>Where in the buffer it stands.</summary>
    public JsonArray Views { get; } = [];

    /// <summary>The animation of what moves.</summary>
    public JsonArray Animations =>
        new(
            new JsonObject
            {
                ["name"] = "swim",
                ["samplers"] = _samplers,
                ["channels"] = _channels,
            }
        );

    /// <summary>The buffer itself, inside the document.</summary>
    public JsonArray Buffers =>
        new(
            new JsonObject
            {
                ["byteLength"] = (int)_bytes.Length,
                ["uri"] = "data:application/octet-stream;base64," + Convert.ToBase64String(_bytes.ToArray()),
            }
        );

    /// <summary>Lets a node move from a place to another between the two times.</summary>
    public void Animate(int node, Vector3 from, Vector3 to)
    {
        int places = Add(
            Float,
            2,
            "VEC3",
            () =>
            {
                Put(from);
                Put(to);
            }
        );
        _samplers.Add(new JsonObject { ["input"] = Times, ["output"] = places });
        _channels.Add(
            new JsonObject
            {
                ["sampler"] = _samplers.Count - 1,
                ["target"] = new JsonObject { ["node"] = node, ["path"] = "translation" },
            }
        );
    }

    /// <inheritdoc/>
    public void Dispose() => _writer.Dispose();

    private int Add(int component, int count, string type, Action write, int? target = null)
    {
        int at = (int)_bytes.Length;
        write();
        var view = new JsonObject
        {
            ["buffer"] = 0,
            ["byteOffset"] = at,
            ["byteLength"] = (int)_bytes.Length - at,
        };
        if (target is { } use)
        {
            view["target"] = use;
        }

        Views.Add(view);
        Accessors.Add(
            new JsonObject
            {
                ["bufferView"] = Views.Count - 1,
                ["componentType"] = component,
                ["count"] = count,
                ["type"] = type,
            }
        );
        return Accessors.Count - 1;
    }

    private void Put(Vector3 v)
    {
        _writer.Write(v.X);
        _writer.Write(v.Y);
        _writer.Write(v.Z);
    }
}
