using System.Text.Json.Nodes;

namespace DuneCrate.Planning.Merging;

/// <summary>
/// Three-way merge of trees: what only one side changed is taken from it; where both changed the same thing differently it is a
/// conflict and the caller's choice decides. Plain lists, such as a sum, are merged term by term between people; a layer that has one of
/// its own keeps it whole. Members of lists keep the order of the side that changed it.
/// </summary>
internal sealed class TreeMerge(bool preferMine)
{
    private readonly List<string> _conflicts = [];

    /// <summary>
    /// Where both sides changed the same thing differently, as paths such as <c>layers/sub/outputs/…/depth/channels/Z</c>.
    /// </summary>
    public IReadOnlyList<string> Conflicts => _conflicts;

    /// <summary>Merges; the result shares no node with the inputs.</summary>
    public JsonNode? Merge(JsonNode? before, JsonNode? mine, JsonNode? theirs, string path = "")
    {
        if (JsonNode.DeepEquals(mine, theirs) || JsonNode.DeepEquals(before, mine))
        {
            return theirs?.DeepClone();
        }

        if (JsonNode.DeepEquals(before, theirs))
        {
            return mine?.DeepClone();
        }

        if (mine is JsonObject m && theirs is JsonObject t)
        {
            var merged = new JsonObject();
            foreach ((string key, JsonNode? value) in Members(before as JsonObject, m, t, path))
            {
                merged[key] = value;
            }

            return merged;
        }

        if (
            mine is JsonArray mineList
            && theirs is JsonArray theirList
            && PlanTree.Named(mineList, !preferMine) is { } mineNamed
            && PlanTree.Named(theirList, !preferMine) is { } theirNamed
            && PlanTree.Named(before as JsonArray ?? [], !preferMine) is { } beforeNamed
        )
        {
            return new JsonArray([.. Merged(beforeNamed, mineNamed, theirNamed, path).Select(v => v.Value)]);
        }

        _conflicts.Add(path);
        return (preferMine ? mine : theirs)?.DeepClone();
    }

    private IEnumerable<KeyValuePair<string, JsonNode?>> Members(JsonObject? before, JsonObject mine, JsonObject theirs, string path) =>
        Merged(Fields(before ?? []), Fields(mine), Fields(theirs), path);

    private static OrderedDictionary<string, JsonNode?> Fields(JsonObject tree) => new(tree);

    private List<KeyValuePair<string, JsonNode?>> Merged(
        OrderedDictionary<string, JsonNode?> before,
        OrderedDictionary<string, JsonNode?> mine,
        OrderedDictionary<string, JsonNode?> theirs,
        string path
    )
    {
        var result = new List<KeyValuePair<string, JsonNode?>>();
        foreach (string key in Order([.. before.Keys], [.. mine.Keys], [.. theirs.Keys]))
        {
            bool inBefore = before.TryGetValue(key, out JsonNode? b),
                inMine = mine.TryGetValue(key, out JsonNode? m),
                inTheirs = theirs.TryGetValue(key, out JsonNode? t);
            string at = path.Length == 0 ? PlanComparison.Step(key) : $"{path}/{PlanComparison.Step(key)}";
            if (inMine && inTheirs)
            {
                result.Add(new(key, Merge(inBefore ? b : null, m, t, at)));
            }
            else if (inBefore && (inMine || inTheirs))
            {
                // One side took it out; a conflict when the other changed it.
                bool isChanged = !JsonNode.DeepEquals(b, inMine ? m : t);
                if (isChanged)
                {
                    _conflicts.Add(at);
                }

                if (isChanged && preferMine == inMine)
                {
                    result.Add(new(key, (inMine ? m : t)?.DeepClone()));
                }
            }
            else if (inMine || inTheirs)
            {
                result.Add(new(key, (inMine ? m : t)?.DeepClone()));
            }
        }

        return result;
    }

    /// <summary>The order of the side that changed it; what only the other side has follows the member before it there.</summary>
    private static List<string> Order(string[] before, string[] mine, string[] theirs)
    {
        bool mineMoved = !before.Where(mine.Contains).SequenceEqual(mine.Where(before.Contains));
        (string[] lead, string[] other) = mineMoved ? (mine, theirs) : (theirs, mine);
        var order = lead.ToList();
        for (int i = 0; i < other.Length; i++)
        {
            if (!order.Contains(other[i]))
            {
                order.Insert(i == 0 ? 0 : order.IndexOf(other[i - 1]) + 1, other[i]);
            }
        }

        return order;
    }
}
