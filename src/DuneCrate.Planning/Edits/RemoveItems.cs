using System.Collections.Immutable;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Passes;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Scene;

namespace DuneCrate.Planning.Edits;

/// <summary>Takes items out of the roster, and their roles with them.</summary>
public sealed record RemoveItems(ImmutableArray<string> Items) : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Description => Items is [var one] ? $"item {one} removed" : $"{Items.Length} items removed";

    /// <inheritdoc/>
    protected override Plan Change(Plan plan)
    {
        var gone = Items.ToHashSet();
        return plan with
        {
            Scene = (plan.Scene ?? new SceneRoster()) with { Items = plan.Items.RemoveAll(i => gone.Contains(i.Name)) },
            Layers =
            [
                .. plan.Layers.Select(l =>
                    l.Roles is null
                        ? l
                        : l with
                        {
                            Roles = SetRoles.OrNull(new OrderedDictionary<string, ItemRole>(l.Roles.Where(r => !gone.Contains(r.Key)))),
                        }
                ),
            ],
        };
    }
}
