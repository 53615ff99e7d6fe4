using System.Numerics;
using System.Text.Json;
using System.Text.Json.Nodes;

namespace DuneCrate.StandIns.Renderer;

/// <summary>
/// <em>The Kelp Post</em> as a glTF 2.0 scene with KHR_lights_punctual, KHR_materials_transmission and KHR_materials_emissive_strength:
/// what an outside scene tool would export, for trying the roster. Frames 1001 and 1002 make the animation.
/// </summary>
public sealed class KelpGltf
{
    private static readonly JsonSerializerOptions Indented = new() { WriteIndented = true };

    private readonly KelpScene _scene,
        _next;
    private readonly JsonArray _nodes = [],
        _top = [];

    private KelpGltf(string shot) => (_scene, _next) = (new KelpScene(shot, 1001), new KelpScene(shot, 1002));

    private static JsonArray Cameras =>
        new JsonArray(
            new JsonObject
            {
                ["type"] = "perspective",
                ["perspective"] = new JsonObject
                {
                    ["yfov"] = 0.4426,
                    ["aspectRatio"] = 16.0 / 9,
                    ["znear"] = 0.1,
                },
            }
        );

    private static JsonArray Meshes =>
        new JsonArray([
            .. KelpScene.Items.Select(
                (item, i) =>
                    (JsonNode)
                        new JsonObject
                        {
                            ["name"] = item.Name,
                            ["primitives"] = new JsonArray(
                                new JsonObject
                                {
                                    ["attributes"] = new JsonObject { ["POSITION"] = 0 },
                                    ["indices"] = 1,
                                    ["material"] = i,
                                }
                            ),
                        }
            ),
        ]);

    private static JsonArray Lights =>
        new JsonArray(
            new JsonObject
            {
                ["type"] = "directional",
                ["intensity"] = 1.25,
                ["color"] = Gltf.Numbers(1, 0.72f, 0.5f),
                ["name"] = "dusk_sun",
            },
            new JsonObject
            {
                ["type"] = "point",
                ["intensity"] = 2.6,
                ["name"] = "lamp_light",
            }
        );

    /// <summary>The document, buffers inside.</summary>
    public static string Write(string shot) => new KelpGltf(shot).Document().ToJsonString(Indented) + "\n";

    private JsonObject Document()
    {
        using var buffer = new KelpGltfBuffer();
        for (int item = 0; item < KelpScene.Items.Length; item++)
        {
            AddItem(item, buffer);
        }

        AddCamerasAndLights();
        return new JsonObject
        {
            ["asset"] = new JsonObject { ["version"] = "2.0", ["generator"] = "Dune Crate stand-in" },
            ["extensionsUsed"] = new JsonArray("KHR_lights_punctual", "KHR_materials_transmission", "KHR_materials_emissive_strength"),
            ["scene"] = 0,
            ["scenes"] = new JsonArray(new JsonObject { ["name"] = "The Kelp Post", ["nodes"] = _top }),
            ["nodes"] = _nodes,
            ["cameras"] = Cameras,
            ["materials"] = new JsonArray([.. KelpScene.Items.Select(MaterialOf)]),
            ["meshes"] = Meshes,
            ["animations"] = buffer.Animations,
            ["accessors"] = buffer.Accessors,
            ["bufferViews"] = buffer.Views,
            ["extensions"] = new JsonObject { ["KHR_lights_punctual"] = new JsonObject { ["lights"] = Lights } },
            ["buffers"] = buffer.Buffers,
        };
    }

    /// <summary>An item with a node for each of its ellipsoids; one that has none is the ground.</summary>
    private void AddItem(int item, KelpGltfBuffer buffer)
    {
        int[] shapes = [.. Enumerable.Range(0, _scene.Shapes.Length).Where(s => _scene.Shapes[s].Item == item)];
        var children = new JsonArray();
        foreach (int s in shapes)
        {
            children.Add(_nodes.Count);
            _nodes.Add(
                new JsonObject
                {
                    ["mesh"] = item,
                    ["translation"] = Gltf.Vector(_scene.Shapes[s].Center - _scene.Shapes[shapes[0]].Center),
                    ["scale"] = Gltf.Vector(_scene.Shapes[s].Radii),
                    ["name"] = $"{KelpScene.Items[item].Name}_{s}",
                }
            );
        }

        var node = new JsonObject { ["name"] = KelpScene.Items[item].Name };
        if (shapes.Length == 0)
        {
            (node["mesh"], node["scale"]) = (item, Gltf.Numbers(40, 0.01f, 40));
        }
        else
        {
            Vector3 from = _scene.Shapes[shapes[0]].Center;
            (node["children"], node["translation"]) = (children, Gltf.Vector(from));
            buffer.Animate(_nodes.Count, from, _next.Shapes[shapes[0]].Center);
        }

        Add(node);
    }

    private void AddCamerasAndLights()
    {
        Add(
            new JsonObject
            {
                ["name"] = "cam_main",
                ["camera"] = 0,
                ["translation"] = Gltf.Vector(_scene.Camera.Eye),
            }
        );
        Add(
            new JsonObject
            {
                ["name"] = "cam_witness",
                ["camera"] = 0,
                ["translation"] = Gltf.Numbers(6, 4, -6),
            }
        );
        Add(
            new JsonObject
            {
                ["name"] = "dusk_sun",
                ["extensions"] = new JsonObject { ["KHR_lights_punctual"] = new JsonObject { ["light"] = 0 } },
            }
        );
        Add(
            new JsonObject
            {
                ["name"] = "lamp_light",
                ["translation"] = Gltf.Vector(_scene.Lamps[0]),
                ["extensions"] = new JsonObject { ["KHR_lights_punctual"] = new JsonObject { ["light"] = 1 } },
            }
        );
        Add(new JsonObject { ["name"] = "dome_centre", ["translation"] = Gltf.Vector(_scene.Lamps[0]) });
    }

    private void Add(JsonObject node)
    {
        _top.Add(_nodes.Count);
        _nodes.Add(node);
    }

    private static JsonObject MaterialOf(KelpItem item)
    {
        Material look = item.Material;
        var extensions = new JsonObject();
        var material = new JsonObject
        {
            ["name"] = item.Name + "_look",
            ["pbrMetallicRoughness"] = new JsonObject
            {
                ["baseColorFactor"] = Gltf.Numbers(look.Albedo.X, look.Albedo.Y, look.Albedo.Z, 1),
                ["metallicFactor"] = 0,
                ["roughnessFactor"] = MathF.Round(1 - look.Gloss, 3),
            },
        };
        float peak = MathF.Max(look.Emits.X, MathF.Max(look.Emits.Y, look.Emits.Z));
        if (peak > 0)
        {
            material["emissiveFactor"] = Gltf.Vector(look.Emits / peak);
            extensions["KHR_materials_emissive_strength"] = new JsonObject { ["emissiveStrength"] = peak };
        }

        if (look.IsGlass)
        {
            extensions["KHR_materials_transmission"] = new JsonObject { ["transmissionFactor"] = 0.9 };
        }

        if (extensions.Count > 0)
        {
            material["extensions"] = extensions;
        }

        return material;
    }
}
