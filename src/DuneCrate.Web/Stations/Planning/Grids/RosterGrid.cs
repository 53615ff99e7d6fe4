using System.Collections.Immutable;
using DuneCrate.Foundation.Passes;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Scene;

namespace DuneCrate.Web.Stations.Planning.Grids;

/// <summary>The roster: items down, their fields across.</summary>
internal static class RosterGrid
{
    private static readonly Dictionary<string, string> Heads = new()
    {
        ["id"] = "object id",
        ["colour"] = "flat colour",
        ["behind"] = "behind (glass)",
    };

    public static GridModel Create(Plan plan, int revision) =>
        new()
        {
            View = "scene",
            Revision = revision,
            Corner = "Item",
            Summary = plan.Items.IsEmpty ? "no items yet" : $"{plan.Items.Length} items",
            Columns = [.. RosterTable.Columns.Select(c => new GridColumn(c, Heads.GetValueOrDefault(c, c), Options: OptionsOf(plan, c)))],
            Rows =
            [
                .. plan
                    .Items.OrderBy(Order)
                    .Select(i => new GridRow(i.Name, i.Name, "", $"{RosterTable.Word(i.Kind)}s", i.Note ?? "", "", true)),
            ],
            Cells = [.. plan.Items.OrderBy(Order).Select(i => RosterTable.Columns.Select(c => Cell(plan, i, c)).ToImmutableArray())],
        };

    private static int Order(SceneItem item) =>
        item.Kind switch
        {
            ItemKind.Object => 0,
            ItemKind.Plane => 1,
            ItemKind.Light => 2,
            ItemKind.Camera => 3,
            ItemKind.Locator => 4,
            _ => 5,
        };

    private static GridCell Cell(Plan plan, SceneItem item, string column)
    {
        string text = RosterTable.Text(item, column);
        bool isTwice =
            column == "id" && item.Id is not null && item.IsVisible && plan.Items.Any(i => i != item && i.IsVisible && i.Id == item.Id);
        bool isLost = column == "behind" && text.Length > 0 && plan.Items.All(i => i.Name != text);
        string mark =
            isTwice ? "on blocker"
            : isLost ? "on warning"
            : text.Length > 0 ? "on"
            : "";
        return new GridCell(
            text,
            text,
            column == "colour" && text.Length > 0 ? $"{mark} swatch" : mark,
            isTwice ? "another item has this id"
                : isLost ? "no item of this name"
                : ""
        );
    }

    private static ImmutableArray<string>? OptionsOf(Plan plan, string column) =>
        column switch
        {
            "kind" => [.. Enum.GetValues<ItemKind>().Select(RosterTable.Word)],
            "traits" => [.. Enum.GetValues<ItemTrait>().Select(RosterTable.Word)],
            "behind" => [.. plan.Items.Where(i => i.Is(ItemTrait.Transparent)).Select(i => i.Name)],
            "mask" => [.. plan.Items.Select(i => i.Mask).OfType<string>().Distinct()],
            _ => null,
        };
}
