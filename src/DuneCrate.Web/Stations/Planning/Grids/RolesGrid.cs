using System.Collections.Immutable;
using DuneCrate.Foundation.Passes;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Rules;
using DuneCrate.Planning.Scene;

namespace DuneCrate.Web.Stations.Planning.Grids;

/// <summary>The role grid: items down, layers across.</summary>
internal static class RolesGrid
{
    public static GridModel Create(Plan plan, int revision, ImmutableArray<PlanFinding> findings)
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
