using System.Numerics;
using System.Text.Json;
using System.Text.Json.Nodes;

namespace DuneCrate.StandIns.Renderer;

/// <summary>
/// <em>The Kelp Post</em> as a glTF 2.0 scene with KHR_lights_punctual, KHR_materials_transmission and KHR_materials_emissive_strength:
/// what an
/// outside scene tool would export, for trying the roster. Every ellipsoid is an octahedron; frames 1001 and 1002 make the animation.
/// </summary>
public static class KelpGltf
{
    private static readonly Vector3[] Corners = [new(1, 0, 0), new(-1, 0, 0), new(0, 1, 0), new(0, -1, 0), new(0, 0, 1), new(0, 0, -1)];
    private static readonly ushort[] Faces = [0, 2, 4, 2, 1, 4, 1, 3, 4, 3, 0, 4, 2, 0, 5, 1, 2, 5, 3, 1, 5, 0, 3, 5];

    /// <summary>The document, buffers inside.</summary>
    public static string Write(string shot)
    {
        KelpScene scene = new(shot, 1001),
            next = new(shot, 1002);
        var nodes = new JsonArray();
        var top = new JsonArray();
        using var buffer = new MemoryStream();
        using var writer = new BinaryWriter(buffer);
        foreach (Vector3 corner in Corners)
        {
            Put(writer, corner);
        }

        Array.ForEach(Faces, writer.Write);
        int times = (int)buffer.Length;
        writer.Write(0f);
        writer.Write(1 / 24f);
        var accessors = new JsonArray
        {
            new JsonObject
            {
                ["bufferView"] = 0,
                ["componentType"] = 5126,
                ["count"] = 6,
                ["type"] = "VEC3",
                ["min"] = Numbers(-1, -1, -1),
                ["max"] = Numbers(1, 1, 1),
            },
            new JsonObject
            {
                ["bufferView"] = 1,
                ["componentType"] = 5123,
                ["count"] = Faces.Length,
                ["type"] = "SCALAR",
            },
            new JsonObject
            {
                ["bufferView"] = 2,
                ["componentType"] = 5126,
                ["count"] = 2,
                ["type"] = "SCALAR",
                ["min"] = Numbers(0),
                ["max"] = Numbers(1 / 24f),
            },
        };
        var views = new JsonArray
        {
            new JsonObject
            {
                ["buffer"] = 0,
                ["byteOffset"] = 0,
                ["byteLength"] = 72,
                ["target"] = 34962,
            },
            new JsonObject
            {
                ["buffer"] = 0,
                ["byteOffset"] = 72,
                ["byteLength"] = 48,
                ["target"] = 34963,
            },
            new JsonObject
            {
                ["buffer"] = 0,
                ["byteOffset"] = times,
                ["byteLength"] = 8,
            },
        };
        JsonArray samplers = [],
            channels = [];
        for (int item = 0; item < KelpScene.Items.Length; item++)
        {
            int[] shapes = [.. Enumerable.Range(0, scene.Shapes.Length).Where(s => scene.Shapes[s].Item == item)];
            var children = new JsonArray();
            foreach (int s in shapes)
            {
                children.Add(nodes.Count);
                nodes.Add(
                    new JsonObject
                    {
                        ["mesh"] = item,
                        ["translation"] = Vector(scene.Shapes[s].Center - scene.Shapes[shapes[0]].Center),
                        ["scale"] = Vector(scene.Shapes[s].Radii),
                        ["name"] = $"{KelpScene.Items[item].Name}_{s}",
                    }
                );
            }

            top.Add(nodes.Count);
            var node = new JsonObject { ["name"] = KelpScene.Items[item].Name };
            if (shapes.Length == 0)
            {
                node["mesh"] = item;
                node["scale"] = Numbers(40, 0.01f, 40);
            }
            else
            {
                node["children"] = children;
                node["translation"] = Vector(scene.Shapes[shapes[0]].Center);
                Animate(nodes.Count, scene.Shapes[shapes[0]].Center, next.Shapes[shapes[0]].Center);
            }

            nodes.Add(node);
        }

        void Animate(int node, Vector3 from, Vector3 to)
        {
            views.Add(
                new JsonObject
                {
                    ["buffer"] = 0,
                    ["byteOffset"] = (int)buffer.Length,
                    ["byteLength"] = 24,
                }
            );
            Put(writer, from);
            Put(writer, to);
            accessors.Add(
                new JsonObject
                {
                    ["bufferView"] = views.Count - 1,
                    ["componentType"] = 5126,
                    ["count"] = 2,
                    ["type"] = "VEC3",
                }
            );
            samplers.Add(new JsonObject { ["input"] = 2, ["output"] = accessors.Count - 1 });
            channels.Add(
                new JsonObject
                {
                    ["sampler"] = samplers.Count - 1,
                    ["target"] = new JsonObject { ["node"] = node, ["path"] = "translation" },
                }
            );
        }

        void Add(JsonObject node)
        {
            top.Add(nodes.Count);
            nodes.Add(node);
        }

        Add(
            new JsonObject
            {
                ["name"] = "cam_main",
                ["camera"] = 0,
                ["translation"] = Vector(scene.Camera.Eye),
            }
        );
        Add(
            new JsonObject
            {
                ["name"] = "cam_witness",
                ["camera"] = 0,
                ["translation"] = Numbers(6, 4, -6),
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
                ["translation"] = Vector(scene.Lamps[0]),
                ["extensions"] = new JsonObject { ["KHR_lights_punctual"] = new JsonObject { ["light"] = 1 } },
            }
        );
        Add(new JsonObject { ["name"] = "dome_centre", ["translation"] = Vector(scene.Lamps[0]) });
        var document = new JsonObject
        {
            ["asset"] = new JsonObject { ["version"] = "2.0", ["generator"] = "Dune Crate stand-in" },
            ["extensionsUsed"] = new JsonArray("KHR_lights_punctual", "KHR_materials_transmission", "KHR_materials_emissive_strength"),
            ["scene"] = 0,
            ["scenes"] = new JsonArray(new JsonObject { ["name"] = "The Kelp Post", ["nodes"] = top }),
            ["nodes"] = nodes,
            ["cameras"] = new JsonArray(
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
            ),
            ["materials"] = new JsonArray([.. KelpScene.Items.Select(MaterialOf)]),
            ["meshes"] = new JsonArray([
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
            ]),
            ["animations"] = new JsonArray(
                new JsonObject
                {
                    ["name"] = "swim",
                    ["samplers"] = samplers,
                    ["channels"] = channels,
                }
            ),
            ["accessors"] = accessors,
            ["bufferViews"] = views,
            ["extensions"] = new JsonObject
            {
                ["KHR_lights_punctual"] = new JsonObject
                {
                    ["lights"] = new JsonArray(
                        new JsonObject
                        {
                            ["type"] = "directional",
                            ["intensity"] = 1.25,
                            ["color"] = Numbers(1, 0.72f, 0.5f),
                            ["name"] = "dusk_sun",
                        },
                        new JsonObject
                        {
                            ["type"] = "point",
                            ["intensity"] = 2.6,
                            ["name"] = "lamp_light",
                        }
                    ),
                },
            },
        };
        document["buffers"] = new JsonArray(
            new JsonObject
            {
                ["byteLength"] = (int)buffer.Length,
                ["uri"] = "data:application/octet-stream;base64," + Convert.ToBase64String(buffer.ToArray()),
            }
        );
        return document.ToJsonString(new JsonSerializerOptions { WriteIndented = true }) + "\n";
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
                ["baseColorFactor"] = Numbers(look.Albedo.X, look.Albedo.Y, look.Albedo.Z, 1),
                ["metallicFactor"] = 0,
                ["roughnessFactor"] = MathF.Round(1 - look.Gloss, 3),
            },
        };
        float peak = MathF.Max(look.Emits.X, MathF.Max(look.Emits.Y, look.Emits.Z));
        if (peak > 0)
        {
            material["emissiveFactor"] = Vector(look.Emits / peak);
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

    private static void Put(BinaryWriter writer, Vector3 v)
    {
        writer.Write(v.X);
        writer.Write(v.Y);
        writer.Write(v.Z);
    }

    private static JsonArray Vector(Vector3 v) => Numbers(v.X, v.Y, v.Z);

    private static JsonArray Numbers(params float[] values) => new([.. values.Select(v => (JsonNode)JsonValue.Create(v))]);
}
