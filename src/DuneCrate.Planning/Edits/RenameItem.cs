using System.Text.Json.Serialization;
using DuneCrate.Planning.Model;

namespace DuneCrate.Planning.Edits;

/// <summary>Renames an item; roles, changes and items behind it follow.</summary>
public sealed record RenameItem(string Item, string Name) : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Description => $"item {Item} renamed to {Name}";

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
