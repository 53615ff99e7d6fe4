using System.Collections.Immutable;
using System.Text.Json.Serialization;
using DuneCrate.Core.Planning.Sheet;

namespace DuneCrate.Core.Planning.Edits;

/// <summary>A cell and the text that is to stand in it; an empty text takes the pass out.</summary>
public sealed record CellText(string Layer, string Pass, string Text);

/// <summary>Writes cells of the pass sheet: planning, taking out, switching off, types, pasting and filling are all this.</summary>
public sealed record WriteCells(ImmutableArray<CellText> Cells) : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says =>
        Cells is [var one]
            ? $"{one.Pass} of {one.Layer} {(one.Text.Length == 0 ? "taken out" : $"set to {one.Text}")}"
            : $"{Cells.Length} cells changed";

    /// <inheritdoc/>
    protected override Plan Change(Plan plan)
    {
        CheckCount(Cells.Length);
        foreach (CellText cell in Cells)
        {
            if (!plan.Catalogue.TryFind(cell.Pass, out _))
            {
                throw new PlanEditException("pass", PlanValidation.UnknownPass(cell.Pass, plan.Catalogue));
            }

            if (!SheetCell.TryParse(cell.Text, out SheetCell value, out string? problem))
            {
                throw new PlanEditException("cell", $"{cell.Pass} of {cell.Layer}: {problem}");
            }

            plan = ChangeLayer(plan, cell.Layer, layer => PassSheet.Write(plan, layer, cell.Pass, value));
        }

        return plan;
    }
}

/// <summary>An item, a layer, and the role that is to stand in the grid: a role's words, or nothing for shown.</summary>
public sealed record RoleText(string Item, string Layer, string Text);

/// <summary>Writes cells of the role grid.</summary>
public sealed record WriteRoles(ImmutableArray<RoleText> Cells) : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says =>
        Cells is [var one] ? $"{one.Item} {(one.Text.Length == 0 ? "shown" : one.Text)} in {one.Layer}" : $"{Cells.Length} roles changed";

    /// <inheritdoc/>
    protected override Plan Change(Plan plan)
    {
        CheckCount(Cells.Length);
        return SetRoles.Write(
            plan,
            Cells.Select(c =>
                (
                    c.Item,
                    c.Layer,
                    Scene.ItemRoles.Find(c.Text)
                        ?? throw new PlanEditException(
                            "cell",
                            $"'{c.Text}' is not a role; write {string.Join(", ", Enum.GetValues<Scene.ItemRole>().Select(Scene.ItemRoles.Words))}."
                        )
                )
            )
        );
    }
}

/// <summary>A layer (or the show, named by an empty text), a render setting, and its value.</summary>
public sealed record SettingText(string Layer, string Name, string Text);

/// <summary>Writes cells of the grid of render settings.</summary>
public sealed record WriteSettings(ImmutableArray<SettingText> Cells) : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says =>
        Cells is [var one]
            ? $"{one.Name} of {one.Layer} set to {(one.Text.Length == 0 ? "the show's" : one.Text)}"
            : $"{Cells.Length} render settings changed";

    /// <inheritdoc/>
    protected override Plan Change(Plan plan)
    {
        CheckCount(Cells.Length);
        return Through(plan, Cells.Select(c => new SetSettings([c.Layer], c.Name, c.Text)));
    }
}

/// <summary>An item, a column of the roster, and the text that is to stand there.</summary>
public sealed record ItemText(string Item, string Column, string Text);

/// <summary>Writes cells of the roster. Writing the name of an item renames it.</summary>
public sealed record WriteItems(ImmutableArray<ItemText> Cells) : PlanEdit
{
    /// <inheritdoc/>
    [JsonIgnore]
    public override string Says =>
        Cells is [var one] ? $"{one.Column} of {one.Item} set to {one.Text}" : $"{Cells.Length} fields of the roster changed";

    /// <inheritdoc/>
    protected override Plan Change(Plan plan)
    {
        CheckCount(Cells.Length);
        var items = plan.Items.DistinctBy(i => i.Name).ToDictionary(i => i.Name);
        foreach (ItemText cell in Cells.Where(c => c.Column != "name"))
        {
            Scene.SceneItem item =
                items.GetValueOrDefault(cell.Item) ?? throw new PlanEditException("item", $"There is no item {cell.Item} any more.");
            try
            {
                items[cell.Item] = Scene.RosterTable.With(item, cell.Column, cell.Text);
            }
            catch (FormatException e)
            {
                throw new PlanEditException("cell", e.Message);
            }
        }

        Scene.SceneItem[] changed = [.. Cells.Where(c => c.Column != "name").Select(c => c.Item).Distinct().Select(i => items[i])];
        return Through(
            plan,
            Cells
                .Where(c => c.Column == "name" && c.Text.Trim() != c.Item)
                .Select(PlanEdit (c) => new RenameItem(c.Item, c.Text.Trim()))
                .Prepend(new PutItems([.. changed]))
        );
    }
}
