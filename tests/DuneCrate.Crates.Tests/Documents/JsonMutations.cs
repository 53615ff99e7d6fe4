using System.Text.Json.Nodes;

namespace DuneCrate.Crates.Tests.Documents;

/// <summary>
/// Documents that somebody edited by hand: every value in turn left out, emptied or replaced by what does not belong there.
/// </summary>
internal static class JsonMutations
{
    /// <summary>What a sentence for people never holds, as a pattern: names of types and the reader's own words.</summary>
    public const string OfTheCode = @"System\.|DuneCrate\.|BytePosition|JSON value|properties including|Exception";

    /// <summary>The values that stand in, by name; null for leaving the value out.</summary>
    private static readonly Dictionary<string, Func<JsonNode?>?> StandIns = new()
    {
        ["left out"] = null,
        ["null"] = () => null,
        ["an empty text"] = () => "",
        ["a word"] = () => "kelp",
        ["a long text"] = () => new string('k', 5000),
        ["a path"] = () => "../../kelp",
        ["minus one"] = () => -1,
        ["zero"] = () => 0,
        ["a large number"] = () => int.MaxValue,
        ["a huge number"] = () => 1e300,
        ["a fraction"] = () => 0.5,
        ["true"] = () => true,
        ["an empty list"] = () => new JsonArray(),
        ["a list with nothing"] = () => new JsonArray((JsonNode?)null),
        ["an empty object"] = () => new JsonObject(),
        ["an object with nothing"] = () => new JsonObject { ["R"] = null },
    };

    /// <summary>Names of the changes, as test data.</summary>
    public static TheoryData<string> Changes() => [.. StandIns.Keys];

    /// <summary>The documents that one change makes of one, with the place where it was made.</summary>
    public static IEnumerable<(string Path, string Json)> All(string document, string change)
    {
        for (int i = 0; i < Places(JsonNode.Parse(document)!).Count(); i++)
        {
            JsonNode changed = JsonNode.Parse(document)!,
                place = Places(changed).ElementAt(i);
            string path = place.GetPath();
            Replace(place, StandIns[change]);
            yield return (path, changed.ToJsonString());
        }
    }

    /// <summary>
    /// Holds that each changed document is used, or refused in the way that <paramref name="use"/> takes for a refusal: without any other
    /// exception.
    /// </summary>
    public static void AllAreUsed(string document, string change, Action<string> use)
    {
        var broken = new List<string>();
        int count = 0;
        foreach ((string path, string json) in All(document, change))
        {
            count++;
            try
            {
                use(json);
            }
            catch (Exception e) when (e is not Xunit.Sdk.XunitException)
            {
                broken.Add(
                    $"{path} is {change}: {e.GetType().Name} {e.Message} "
                        + $"{e.StackTrace?.Split('\n').FirstOrDefault(l => l.Contains("DuneCrate.Core."))?.Trim()}"
                );
            }
        }

        Assert.True(count > 0 && broken.Count == 0, string.Join('\n', broken.Take(12).Append($"{broken.Count} of {count}")));
    }

    /// <summary>Every value of a document but the outermost.</summary>
    private static IEnumerable<JsonNode> Places(JsonNode node) => Children(node).SelectMany(c => Places(c).Prepend(c));

    private static IEnumerable<JsonNode> Children(JsonNode node) =>
        node switch
        {
            JsonObject o => o.Select(p => p.Value).OfType<JsonNode>(),
            JsonArray a => a.OfType<JsonNode>(),
            _ => [],
        };

    private static void Replace(JsonNode place, Func<JsonNode?>? with)
    {
        switch (place.Parent)
        {
            case JsonObject parent when with is null:
                parent.Remove(place.GetPropertyName());
                break;
            case JsonObject parent:
                parent[place.GetPropertyName()] = with();
                break;
            case JsonArray list when with is null:
                list.RemoveAt(place.GetElementIndex());
                break;
            case JsonArray list:
                list[place.GetElementIndex()] = with();
                break;
        }
    }
}
