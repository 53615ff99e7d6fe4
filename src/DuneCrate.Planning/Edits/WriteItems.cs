using System.Collections.Immutable;
using System.Text.Json.Serialization;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Scene;

namespace DuneCrate.Planning.Edits;

/// <summary>Writes cells of the roster. Writing the name of an item renames it.</summary>
public sealed record WriteItems(ImmutableArray<ItemText> Cells) : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Description =>
        Cells is [var one] ? $"{one.Column} of {one.Item} set to {one.Text}" : $"{Cells.Length} fields of the roster changed";

    /// <inheritdoc/>
    protected override Plan Change(Plan plan)
    {
        CheckCount(Cells.Length);
        var items = plan.Items.DistinctBy(i => i.Name).ToDictionary(i => i.Name);
        foreach (ItemText cell in Cells.Where(c => c.Column != "name"))
        {
            SceneItem item =
                items.GetValueOrDefault(cell.Item) ?? throw new PlanEditException("item", $"There is no item {cell.Item} any more.");
            try
            {
                items[cell.Item] = RosterTable.With(item, cell.Column, cell.Text);
            }
            catch (FormatException e)
            {
                throw new PlanEditException("cell", e.Message);
            }
        }

        SceneItem[] changed = [.. Cells.Where(c => c.Column != "name").Select(c => c.Item).Distinct().Select(i => items[i])];
        return Through(
            plan,
            Cells
                .Where(c => c.Column == "name" && c.Text.Trim() != c.Item)
                .Select(PlanEdit (c) => new RenameItem(c.Item, c.Text.Trim()))
                .Prepend(new PutItems([.. changed]))
        );
    }
}
