using System.Numerics;
using System.Text.Json.Nodes;

namespace DuneCrate.StandIns.Renderer;

/// <summary>Numbers as glTF writes them.</summary>
internal static class Gltf
{
    /// <summary>A vector as an array of its three numbers.</summary>
    public static JsonArray Vector(Vector3 v) => Numbers(v.X, v.Y, v.Z);

    /// <summary>Numbers as an array.</summary>
    public static JsonArray Numbers(params float[] values) => new([.. values.Select(v => (JsonNode)JsonValue.Create(v))]);
}
