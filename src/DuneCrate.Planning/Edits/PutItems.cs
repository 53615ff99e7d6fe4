using System.Collections.Immutable;
using System.Text.Json.Serialization;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Scene;

namespace DuneCrate.Planning.Edits;

/// <summary>Puts items into the roster; one of a known name is replaced where it stands.</summary>
public sealed record PutItems(ImmutableArray<SceneItem> Items) : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Description => Items is [var one] ? $"item {one.Name} set" : $"{Items.Length} items put into the roster";

    /// <inheritdoc/>
    protected override Plan Change(Plan plan)
    {
        var roster = plan.Items.ToList();
        var places = new Dictionary<string, int>(StringComparer.OrdinalIgnoreCase);
        foreach ((int i, SceneItem item) in roster.Index())
        {
            places.TryAdd(item.Name, i);
        }

        foreach (SceneItem item in Items)
        {
            if (item.Problem is { } problem)
            {
                throw new PlanEditException("item", problem);
            }

            SceneItem clean = item with { Traits = [.. item.Traits.Distinct().Order()] };
            if (places.TryAdd(item.Name, roster.Count))
            {
                roster.Add(clean);
            }
            else
            {
                roster[places[item.Name]] = clean;
            }
        }

        return plan with
        {
            Scene = (plan.Scene ?? new SceneRoster()) with { Items = [.. roster] },
        };
    }
}
