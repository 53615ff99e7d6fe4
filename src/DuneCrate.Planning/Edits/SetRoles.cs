using System.Collections.Immutable;
using System.Text.Json.Serialization;
using DuneCrate.Foundation.Passes;
using DuneCrate.Planning.Model;

namespace DuneCrate.Planning.Edits;

/// <summary>Says how items take part in layers; without items or layers all of them are meant.</summary>
public sealed record SetRoles(ImmutableArray<string> Items, ImmutableArray<string> Layers, ItemRole Role) : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Description =>
        $"{(Items is [var one] ? one : Items.IsDefaultOrEmpty ? "every item" : $"{Items.Length} items")} "
        + $"{Role.Words()} in {Listed(Layers, "all layers")}";

    /// <inheritdoc/>
    protected override Plan Change(Plan plan)
    {
        string[] items = Items.IsDefaultOrEmpty ? [.. plan.Items.Where(i => i.IsVisible).Select(i => i.Name)] : [.. Items];
        return Write(plan, Named(plan, Layers).SelectMany(layer => items.Select(item => (item, layer, Role))));
    }

    /// <summary>The plan with roles of any items in any layers.</summary>
    internal static Plan Write(Plan plan, IEnumerable<(string Item, string Layer, ItemRole Role)> roles)
    {
        var known = plan.Items.Select(i => i.Name).ToHashSet();
        foreach (var layer in roles.GroupBy(r => r.Layer))
        {
            plan = ChangeLayer(
                plan,
                layer.Key,
                l =>
                {
                    var changed = new OrderedDictionary<string, ItemRole>(l.Roles ?? []);
                    foreach ((string item, _, ItemRole role) in layer)
                    {
                        if (!known.Contains(item))
                        {
                            throw new PlanEditException("item", $"There is no item {item} in the roster.");
                        }

                        changed[item] = role;
                    }

                    return l with
                    {
                        Roles = OrNull(new OrderedDictionary<string, ItemRole>(changed.Where(r => r.Value != ItemRole.Shown))),
                    };
                }
            );
        }

        return plan;
    }

    internal static OrderedDictionary<string, ItemRole>? OrNull(OrderedDictionary<string, ItemRole> roles) =>
        roles.Count == 0 ? null : roles;
}
