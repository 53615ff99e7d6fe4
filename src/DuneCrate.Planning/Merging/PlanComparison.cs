using System.Collections.Immutable;
using System.Text.Json.Nodes;
using DuneCrate.Planning.Model;

namespace DuneCrate.Planning.Merging;

/// <summary>Lists what differs between two versions of a plan.</summary>
public static class PlanComparison
{
    /// <summary>A group of more values than this is counted, not listed.</summary>
    private const int MostValues = 6;

    /// <summary>Steps between names in a path: list names that people need not read.</summary>
    private static readonly HashSet<string> Silent = ["layers", "outputs", "passes", "channels", "scene", "items"];

    /// <summary>Everything that differs, in the order of the later plan.</summary>
    public static ImmutableArray<PlanChange> Between(Plan before, Plan after) => Between(PlanTree.From(before), PlanTree.From(after));

    internal static ImmutableArray<PlanChange> Between(JsonNode before, JsonNode after)
    {
        var changes = ImmutableArray.CreateBuilder<PlanChange>();
        Walk(before, after, "", changes);
        return changes.ToImmutable();
    }

    /// <summary>A path for people.</summary>
    public static string Words(string path) => string.Join(" · ", Split(path).Where(s => !Silent.Contains(s)).Select(Spaced));

    internal static string? PassIn(string path) => Split(path) is ["layers", _, "passes", var pass, ..] ? pass : null;

    /// <summary>A slash inside a name is written as a fraction slash, so that paths can be split.</summary>
    private static string[] Split(string path) => path.Split('/');

    private static string Spaced(string step) =>
        step switch
        {
            "basedOn" => "based on",
            "frameRate" => "frame rate",
            "pixelAspectRatio" => "pixel aspect ratio",
            "testFrame" => "test frame",
            _ => step.Replace('\u2044', '/'),
        };

    internal static string Step(string name) => name.Replace('/', '\u2044');

    private static void Walk(JsonNode? before, JsonNode? after, string path, ImmutableArray<PlanChange>.Builder changes)
    {
        if (JsonNode.DeepEquals(before, after))
        {
            return;
        }

        if (Members(before) is { } b && Members(after) is { } a)
        {
            foreach (string key in b.Keys.Where(k => !a.ContainsKey(k)))
            {
                changes.Add(new PlanChange(At(path, key), Value(b[key]), ""));
            }

            foreach ((string key, JsonNode? value) in a)
            {
                if (b.TryGetValue(key, out JsonNode? was))
                {
                    Walk(was, value, At(path, key), changes);
                }
                else
                {
                    changes.Add(new PlanChange(At(path, key), "", Value(value)));
                }
            }

            string[] common = [.. b.Keys.Where(a.ContainsKey)];
            if (after is JsonArray && !common.SequenceEqual(a.Keys.Where(b.ContainsKey)))
            {
                changes.Add(new PlanChange(At(path, "order"), string.Join(", ", b.Keys), string.Join(", ", a.Keys)));
            }

            return;
        }

        changes.Add(new PlanChange(path, Value(before), Value(after)));
    }

    private static string At(string path, string key) => path.Length == 0 ? Step(key) : $"{path}/{Step(key)}";

    private static OrderedDictionary<string, JsonNode?>? Members(JsonNode? tree) =>
        tree switch
        {
            JsonObject o => new OrderedDictionary<string, JsonNode?>(o),
            JsonArray list => PlanTree.Named(list, plainToo: false),
            _ => null,
        };

    private static string Value(JsonNode? value) =>
        value switch
        {
            null => "nothing",
            JsonObject o when o["channels"] is JsonObject channels => string.Join(
                ", ",
                channels.Select(c => c.Value?.ToString()).Distinct()
            ),
            JsonObject o when o["passes"] is JsonArray passes => $"{passes.Count} passes",
            JsonObject o when o.Count > MostValues => $"{o.Count} values",
            JsonObject o => o.Count == 0
                ? "empty"
                : string.Join(", ", o.Where(f => f.Value is JsonValue).Select(f => $"{f.Key} {f.Value}")),
            JsonArray list => list.Count == 0
                ? "none"
                : string.Join(
                    " + ",
                    list.Select(m =>
                        m is JsonArray product ? string.Join(" × ", product.Select(f => f?.ToString()))
                        : m is JsonValue ? m.ToString()
                        : Value(m)
                    )
                ),
            _ => value.ToJsonString().Trim('"') switch
            {
                "true" => "yes",
                "false" => "no",
                var text => text,
            },
        };
}
