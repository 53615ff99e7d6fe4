using System.Text.Json;
using System.Text.Json.Nodes;

namespace DuneCrate.Core.Planning.Merging;

/// <summary>
/// A plan as a tree whose lists are told apart by what names their members (a layer's name, a pass's key; outputs, whose names are
/// what people change, by their place; plain values by themselves), so that two versions can be laid side by side member by member.
/// </summary>
internal static class PlanTree
{
    private static readonly string[] Names = ["pass", "name"];

    /// <summary>The tree of a plan or a part of one.</summary>
    public static JsonNode Of<T>(T value) => JsonSerializer.SerializeToNode(value, DocumentJson.Options)!;

    /// <summary>The value of a tree.</summary>
    public static T Read<T>(JsonNode tree) => tree.Deserialize<T>(DocumentJson.Options)!;

    /// <summary>The members of a list by name, in order; null when the list has nameless or equal members and is one value.</summary>
    /// <param name="list">The list.</param>
    /// <param name="plainToo">Whether plain values, such as the terms of a sum, are members too.</param>
    public static OrderedDictionary<string, JsonNode?>? Named(JsonArray list, bool plainToo)
    {
        var members = new OrderedDictionary<string, JsonNode?>();
        for (int i = 0; i < list.Count; i++)
        {
            string? name = list[i] is not JsonObject o ? (plainToo ? list[i]?.ToJsonString().Trim('"') : null) : o["template"] is not null ? $"file {i + 1}" : Names.Select(n => o[n]).FirstOrDefault(n => n is JsonValue)?.ToString();
            if (name is null || !members.TryAdd(name, list[i]))
            {
                return null;
            }
        }

        return members;
    }
}
