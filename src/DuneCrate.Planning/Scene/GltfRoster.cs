using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Passes;
using SharpGLTF.Schema2;
using SharpGLTF.Validation;

namespace DuneCrate.Planning.Scene;

/// <summary>
/// Reads a roster out of a glTF 2.0 file (.gltf or .glb): nodes with meshes, materials, punctual lights, cameras, and bare leaf nodes as
/// locators. Buffers and pictures are not needed. Sources: glTF 2.0 specification (materials 3.9: emissive, alpha mode, roughness;
/// cameras 3.10: yfov in radians), KHR_lights_punctual (candela for point and spot, lux for directional), KHR_materials_transmission,
/// KHR_materials_diffuse_transmission.
/// </summary>
public static class GltfRoster
{
    /// <summary>A surface at most this rough is glossy enough for a pass of its own. Common practice.</summary>
    public const float GlossyUpTo = 0.4f;

    /// <summary>Bytes that a file may have.</summary>
    public const long MaxBytes = 128L << 20;

    /// <summary>Reads a file's items: objects, then lights, cameras, locators, then materials; equal names get a number.</summary>
    /// <exception cref="FormatException">The stream is no glTF 2.0; the message says why.</exception>
    public static ImmutableArray<SceneItem> Read(Stream stream)
    {
        ReadContext context = ReadContext.Create(_ => Array.Empty<byte>());
        context.Validation = ValidationMode.Skip;
        try
        {
            ModelRoot model = context.ReadSchema2(stream);
            return model.Asset?.Version?.Major == 2
                ? Items(model)
                : throw new FormatException($"its version is {model.Asset?.Version?.ToString() ?? "not given"}");
        }
        catch (Exception e) when (e is not OutOfMemoryException)
        {
            // The library checks references only when they are followed, with whatever exception that throws.
            string why = e is FormatException ? e.Message : "it is damaged or does not follow the format; export it again";
            throw new FormatException($"This is no glTF 2.0 file that can be read: {why}", e);
        }
    }

    private static ImmutableArray<SceneItem> Items(ModelRoot model)
    {
        if (model.LogicalNodes.Count > RosterLimits.MaxNodes)
        {
            throw new FormatException(
                $"it has {model.LogicalNodes.Count:N0} nodes, more than the {RosterLimits.MaxNodes:N0} that are read. Export what "
                    + $"the shot shows"
            );
        }

        CheckTrees(model.LogicalNodes);
        HashSet<Node> animated = Under(model.LogicalAnimations.SelectMany(a => a.Channels).Select(c => c.TargetNode).OfType<Node>());
        var found = model
            .LogicalNodes.Where(n => !IsPiece(n))
            .Select(n => Item(n, animated))
            .OfType<SceneItem>()
            .OrderBy(i => i.Kind)
            .ToList();
        found.AddRange(
            model.LogicalMaterials.Select(m => new SceneItem
            {
                Name = m.Name ?? $"material_{m.LogicalIndex}",
                Kind = ItemKind.Material,
                Traits = [.. Traits(m).Order()],
            })
        );
        if (found.Count > RosterLimits.MaxItems)
        {
            throw new FormatException(
                $"it has {found.Count:N0} items, more than the {RosterLimits.MaxItems:N0} that a roster keeps. Export what passes depend on"
            );
        }

        var taken = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        return [.. found.Select(i => i with { Name = Unique(Clean(i.Name), i.Kind, taken) })];
    }

    /// <summary>
    /// Nodes stand in trees; whoever walks them relies on it. Source: glTF 2.0 specification, 3.5.2: the hierarchy is a set of disjoint
    /// strict trees.
    /// </summary>
    private static void CheckTrees(IReadOnlyList<Node> nodes)
    {
        var seen = new HashSet<Node>();
        var open = new Stack<Node>(nodes.Except(nodes.SelectMany(n => n.VisualChildren)));
        while (open.TryPop(out Node? node))
        {
            if (!seen.Add(node))
            {
                throw new FormatException($"node {node.LogicalIndex} has two parents");
            }

            foreach (Node child in node.VisualChildren)
            {
                open.Push(child);
            }
        }

        if (seen.Count < nodes.Count)
        {
            throw new FormatException("some of its nodes are children of each other");
        }
    }

    /// <summary>Nodes with everything below them, each walked once however many animations move it and however deep it hangs.</summary>
    private static HashSet<Node> Under(IEnumerable<Node> tops)
    {
        var found = new HashSet<Node>();
        var open = new Stack<Node>(tops);
        while (open.TryPop(out Node? node))
        {
            if (found.Add(node))
            {
                foreach (Node child in node.VisualChildren)
                {
                    open.Push(child);
                }
            }
        }

        return found;
    }

    private static SceneItem? Item(Node node, HashSet<Node> animated)
    {
        string name = node.Name ?? node.Mesh?.Name ?? $"node_{node.LogicalIndex}";
        IEnumerable<ItemTrait> moves = animated.Contains(node) || node.Skin is not null ? [ItemTrait.Animated] : [];
        if (node.Camera is { } camera)
        {
            return new SceneItem
            {
                Name = name,
                Kind = ItemKind.Camera,
                Traits = [.. moves],
                Note = Note(camera),
            };
        }

        if (node.PunctualLight is { } light)
        {
            string unit = light.LightType == PunctualLightType.Directional ? "lx" : "cd";
            return new SceneItem
            {
                Name = name,
                Kind = ItemKind.Light,
                Traits = [.. moves.Append(ItemTrait.Emits).Order()],
                Note = string.Create(CultureInfo.InvariantCulture, $"{Words.Choice(light.LightType)}, {light.Intensity:0.###} {unit}"),
            };
        }

        if (node.Mesh is { } mesh)
        {
            IEnumerable<ItemTrait> morphs = mesh.Primitives.Any(p => p.MorphTargetsCount > 0) ? [ItemTrait.Animated] : [];
            return new SceneItem
            {
                Name = name,
                Kind = ItemKind.Object,
                Traits =
                [
                    .. mesh
                        .Primitives.Select(p => p.Material)
                        .OfType<SharpGLTF.Schema2.Material>()
                        .SelectMany(Traits)
                        .Concat(moves)
                        .Concat(morphs)
                        .Distinct()
                        .Order(),
                ],
            };
        }

        // Pieces that are called after their parent are one item.
        SceneItem[] pieces = [.. node.VisualChildren.Where(c => IsPiece(c)).Select(c => Item(c, animated)).OfType<SceneItem>()];
        if (pieces.Length > 0)
        {
            return new SceneItem
            {
                Name = name,
                Kind = ItemKind.Object,
                Traits = [.. pieces.SelectMany(p => p.Traits).Concat(moves).Distinct().Order()],
            };
        }

        return node.VisualChildren.Any()
            ? null
            : new SceneItem
            {
                Name = name,
                Kind = ItemKind.Locator,
                Traits = [.. moves],
            };
    }

    /// <summary>Whether a node with a mesh is named after its parent, which has none: hull_1 under hull.</summary>
    private static bool IsPiece(Node node) =>
        node is { Mesh: not null, Name: { } name }
        && node.VisualParent is { Mesh: null, Name: { Length: > 0 } parent }
        && name.StartsWith(parent, StringComparison.Ordinal);

    private static string Note(Camera camera) =>
        camera.Settings switch
        {
            CameraPerspective p => string.Create(
                CultureInfo.InvariantCulture,
                $"perspective, vertical field of view {p.VerticalFOV * 180 / Math.PI:0.##}°"
            ),
            CameraOrthographic o => string.Create(CultureInfo.InvariantCulture, $"orthographic, {2 * o.YMag:0.###} m high"),
            _ => "",
        };

    private static IEnumerable<ItemTrait> Traits(SharpGLTF.Schema2.Material material)
    {
        float Value(string channel, string parameter) =>
            material.FindChannel(channel)?.Parameters.FirstOrDefault(p => p.Name == parameter)?.Value is { } value
                ? Convert.ToSingle(value, CultureInfo.InvariantCulture)
                : 0;
        if (material.FindChannel("Emissive") is { } emissive && emissive.Color is var glow && glow.X + glow.Y + glow.Z > 0)
        {
            yield return ItemTrait.Emits;
        }

        if (material.Alpha == AlphaMode.BLEND || Value("Transmission", "TransmissionFactor") > 0)
        {
            yield return ItemTrait.Transparent;
        }

        if (material.Alpha == AlphaMode.MASK)
        {
            yield return ItemTrait.CutOut;
        }

        if (material.FindChannel("MetallicRoughness") is not null && Value("MetallicRoughness", "RoughnessFactor") <= GlossyUpTo)
        {
            yield return ItemTrait.Glossy;
        }

        if (Value("DiffuseTransmissionFactor", "DiffuseTransmissionFactor") > 0)
        {
            yield return ItemTrait.Scattering;
        }
    }

    private static string Clean(string name) =>
        name.Length > 110 ? name[..110]
        : string.Concat(name.Select(c => char.IsControl(c) ? '_' : c)) is { Length: > 0 } clean ? clean
        : "unnamed";

    private static string Unique(string name, ItemKind kind, HashSet<string> taken)
    {
        string tried = taken.Contains(name) && kind == ItemKind.Material ? $"{name}_material" : name;
        for (int n = 2; !taken.Add(tried); n++)
        {
            tried = $"{name}_{n.ToString(CultureInfo.InvariantCulture)}";
        }

        return tried;
    }
}
