using System.Text.Json.Serialization;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Scene;

namespace DuneCrate.Planning.Edits;

/// <summary>Gives every visible item without an object id, or with one that another has before it, the lowest free one.</summary>
public sealed record AssignIds : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Description => "object ids assigned";

    /// <inheritdoc/>
    protected override Plan Change(Plan plan)
    {
        var taken = new HashSet<int>();
        bool[] keeps = [.. plan.Items.Select(i => i.IsVisible && i.Id is { } id && taken.Add(id))];
        int next = 1;
        int Free()
        {
            while (!taken.Add(next))
            {
                next++;
            }

            return next;
        }

        return plan with
        {
            Scene = (plan.Scene ?? new SceneRoster()) with
            {
                Items = [.. plan.Items.Select((item, i) => !item.IsVisible || keeps[i] ? item : item with { Id = Free() })],
            },
        };
    }
}
