using System.Text.Json;
using System.Text.Json.Nodes;
using DuneCrate.Foundation.Documents;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Sheet;

namespace DuneCrate.Planning.Merging;

/// <summary>
/// A plan as a tree in which two versions can be laid side by side member by member. Lists are told apart by what names their members (a
/// layer's name, a pass's key, what kind of file an output is; plain values by themselves). The passes of a layer stand beside its outputs
/// and say in which of them they are, so that a pass that moves to another file is the same pass.
/// </summary>
internal static class PlanTree
{
    private const string Home = "file";
    private static readonly string[] Names = ["pass", "name", Home];

    /// <summary>The tree of a plan.</summary>
    public static JsonObject From(Plan plan)
    {
        var tree = (JsonObject)JsonSerializer.SerializeToNode(plan, PlanDocument.Options.Of<Plan>())!;
        foreach (JsonNode? layer in (JsonArray)tree["layers"]!)
        {
            Flatten((JsonObject)layer!);
        }

        return tree;
    }

    /// <summary>The tree of a layer.</summary>
    public static JsonObject From(LayerPlan layer)
    {
        var tree = (JsonObject)JsonSerializer.SerializeToNode(layer, PlanDocument.Options.Of<LayerPlan>())!;
        Flatten(tree);
        return tree;
    }

    /// <summary>The plan of a tree, which is used up.</summary>
    public static Plan ReadPlan(JsonObject tree)
    {
        foreach (JsonNode? layer in (JsonArray)tree["layers"]!)
        {
            Nest((JsonObject)layer!);
        }

        return tree.Deserialize(PlanDocument.Options.Of<Plan>())!;
    }

    /// <summary>The layer of a tree, which is used up.</summary>
    public static LayerPlan ReadLayer(JsonObject tree)
    {
        Nest(tree);
        return tree.Deserialize(PlanDocument.Options.Of<LayerPlan>())!;
    }

    /// <summary>Takes the passes out of the outputs and lets each say where it was.</summary>
    private static void Flatten(JsonObject layer)
    {
        var passes = new JsonArray();
        var taken = new HashSet<string>();
        bool hasShared = false;
        foreach (JsonObject output in layer["outputs"]!.AsArray().OfType<JsonObject>())
        {
            string template = (string?)output["template"] ?? "";
            bool isOwn = template.Contains("{pass}", StringComparison.Ordinal),
                isShared = !isOwn && !hasShared && template != PassSheet.DataTemplate;
            hasShared |= isShared;
            string kind = isOwn ? "own"
                : isShared ? "shared"
                : "data",
                home = kind;
            for (int n = 2; !taken.Add(home); n++)
            {
                home = $"{kind} {n}";
            }

            JsonArray? inside = output["passes"] as JsonArray;
            output.Remove("passes");
            output[Home] = home;
            while (inside is { Count: > 0 })
            {
                JsonNode? pass = inside[0];
                inside.RemoveAt(0);
                if (pass is JsonObject o)
                {
                    o[Home] = home;
                    passes.Add((JsonNode)o);
                }
            }
        }

        layer["passes"] = passes;
    }

    /// <summary>
    /// Puts the passes back. An output that a merge took away while a pass of the other side still needs it is made anew.
    /// </summary>
    private static void Nest(JsonObject layer)
    {
        var homes = new OrderedDictionary<string, JsonObject>(
            layer["outputs"]!.AsArray().OfType<JsonObject>().Select(o => KeyValuePair.Create((string)o[Home]!, o))
        );
        foreach (JsonObject output in homes.Values)
        {
            output["passes"] = new JsonArray();
        }

        var passes = (JsonArray)layer["passes"]!;
        layer.Remove("passes");
        while (passes.Count > 0)
        {
            var pass = (JsonObject)passes[0]!;
            passes.RemoveAt(0);
            string home = (string)pass[Home]!;
            if (!homes.TryGetValue(home, out JsonObject? output))
            {
                string template =
                    home.StartsWith("own", StringComparison.Ordinal) ? PassSheet.OwnTemplate
                    : home.StartsWith("data", StringComparison.Ordinal) ? PassSheet.DataTemplate
                    : PassSheet.SharedTemplate;
                homes[home] = output = new JsonObject
                {
                    ["template"] = template,
                    [Home] = home,
                    ["compression"] = homes.Values.FirstOrDefault()?["compression"]?.DeepClone() ?? "zip",
                    ["passes"] = new JsonArray(),
                };
                layer["outputs"]!.AsArray().Add((JsonNode)output);
            }

            pass.Remove(Home);
            ((JsonArray)output["passes"]!).Add((JsonNode)pass);
        }

        foreach (JsonObject output in homes.Values)
        {
            output.Remove(Home);
            if (((JsonArray)output["passes"]!).Count == 0 && layer["outputs"]!.AsArray().Count > 1)
            {
                layer["outputs"]!.AsArray().Remove(output);
            }
        }
    }

    /// <summary>The members of a list by name, in order; null when the list has nameless or equal members and is one value.</summary>
    /// <param name="list">The list.</param>
    /// <param name="plainToo">Whether plain values, such as the terms of a sum, are members too.</param>
    public static OrderedDictionary<string, JsonNode?>? Named(JsonArray list, bool plainToo)
    {
        var members = new OrderedDictionary<string, JsonNode?>();
        for (int i = 0; i < list.Count; i++)
        {
            string? name = list[i] is not JsonObject o
                ? (plainToo ? list[i]?.ToJsonString().Trim('"') : null)
                : Names.Select(n => o[n]).FirstOrDefault(n => n is JsonValue)?.ToString();
            if (name is null || !members.TryAdd(name, list[i]))
            {
                return null;
            }
        }

        return members;
    }
}
