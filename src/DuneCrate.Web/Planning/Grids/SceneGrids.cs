using System.Collections.Immutable;
using DuneCrate.Core.Planning;
using DuneCrate.Core.Planning.Rules;
using DuneCrate.Core.Scene;

namespace DuneCrate.Web.Planning.Grids;

/// <summary>The roster: items down, their fields across.</summary>
internal static class RosterGrid
{
    private static readonly Dictionary<string, string> Heads = new()
    {
        ["id"] = "object id",
        ["colour"] = "flat colour",
        ["behind"] = "behind (glass)",
    };

    public static GridModel Make(Plan plan, int revision) =>
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

/// <summary>The role grid: items down, layers across.</summary>
internal static class RolesGrid
{
    public static GridModel Make(Plan plan, int revision, ImmutableArray<PlanFinding> findings)
    {
        SceneItem[] items = [.. plan.Items.Where(i => i.IsVisible)];
        ImmutableArray<string> words = [.. Enum.GetValues<ItemRole>().Select(r => r.Words())];
        return new GridModel
        {
            View = "roles",
            Revision = revision,
            Corner = "Item",
            Summary = $"{items.Length} items, {plan.Layers.Length} layers; an item that says nothing is shown",
            Columns =
            [
                .. plan.Layers.Select(l => new GridColumn(
                    l.Name,
                    l.Name,
                    l.BasedOn is { } on ? $"on {on}" : l.Group ?? "",
                    $"{(l.Off ? "off " : "")}{SheetGrid.Worst(findings.Where(f => f.Layer == l.Name && f.Field == "roles"))}",
                    string.Join('\n', findings.Where(f => f.Layer == l.Name && f.Field == "roles").Select(f => f.Message)),
                    words
                )),
            ],
            Rows =
            [
                .. items.Select(i => new GridRow(
                    i.Name,
                    i.Name,
                    string.Join(' ', i.Traits.Select(RosterTable.Word)),
                    $"{RosterTable.Word(i.Kind)}s",
                    "",
                    "",
                    true
                )),
            ],
            Cells = [.. items.Select(i => plan.Layers.Select(l => Cell(plan, l, i)).ToImmutableArray())],
        };
    }

    private static GridCell Cell(Plan plan, LayerPlan layer, SceneItem item)
    {
        ItemRole role = layer.RoleOf(item.Name);
        bool differs = plan.FindLayer(layer.BasedOn) is { } on && on.RoleOf(item.Name) != role;
        string mark = role switch
        {
            ItemRole.Shown => "on",
            ItemRole.Hidden => "gone",
            ItemRole.Holdout => "hole",
            _ => "part",
        };
        return new GridCell(role.Words(), role.Words(), differs ? $"{mark} differs" : mark, differs ? $"differs from {layer.BasedOn}" : "");
    }
}
