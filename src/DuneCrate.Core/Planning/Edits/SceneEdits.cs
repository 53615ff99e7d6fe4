using System.Collections.Immutable;
using System.Text.Json.Serialization;
using DuneCrate.Core.Scene;

namespace DuneCrate.Core.Planning.Edits;

/// <summary>Puts items into the roster; one of a known name is replaced where it stands.</summary>
public sealed record PutItems(ImmutableArray<SceneItem> Items) : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says => Items is [var one] ? $"item {one.Name} set" : $"{Items.Length} items put into the roster";

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

/// <summary>Renames an item; roles, changes and items behind it follow.</summary>
public sealed record RenameItem(string Item, string Name) : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says => $"item {Item} renamed to {Name}";

    /// <inheritdoc/>
    protected override Plan Change(Plan plan)
    {
        if (
            (plan.Items.FirstOrDefault(i => i.Name == Item) ?? throw new PlanEditException("item", $"There is no item {Item} any more."))
                is var item
            && (item with { Name = Name }).Problem is { } problem
        )
        {
            throw new PlanEditException("item", problem);
        }

        if (plan.Items.Any(i => i != item && i.Name.Equals(Name, StringComparison.OrdinalIgnoreCase)))
        {
            throw new PlanEditException("item", $"There is an item {Name} already.");
        }

        return plan with
        {
            Scene = plan.Scene! with
            {
                Items =
                [
                    .. plan.Items.Select(i =>
                        i == item ? i with { Name = Name }
                        : i.Behind == Item ? i with { Behind = Name }
                        : i
                    ),
                ],
            },
            Layers =
            [
                .. plan.Layers.Select(l =>
                    l with
                    {
                        Roles = LayerNames.Rekeyed(l.Roles, Item, Name),
                        Changes = l.Changes is { } changes
                            ? [.. changes.Select(c => c with { Items = [.. c.Items.Select(i => i == Item ? Name : i)] })]
                            : null,
                    }
                ),
            ],
        };
    }
}

/// <summary>Takes items out of the roster, and their roles with them.</summary>
public sealed record RemoveItems(ImmutableArray<string> Items) : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says => Items is [var one] ? $"item {one} removed" : $"{Items.Length} items removed";

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

/// <summary>Says how items take part in layers; without items or layers all of them are meant.</summary>
public sealed record SetRoles(ImmutableArray<string> Items, ImmutableArray<string> Layers, ItemRole Role) : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says =>
        $"{(Items is [var one] ? one : Items.IsDefaultOrEmpty ? "every item" : $"{Items.Length} items")} {Role.Words()} in {Listed(Layers, "all layers")}";

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
