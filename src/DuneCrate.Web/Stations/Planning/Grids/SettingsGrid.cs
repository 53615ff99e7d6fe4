using System.Collections.Immutable;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Rules;

namespace DuneCrate.Web.Stations.Planning.Grids;

/// <summary>Render settings: names down, layers across; the show's value where a layer says nothing.</summary>
internal static class SettingsGrid
{
    public static GridModel Create(Plan plan, int revision, ImmutableArray<PlanFinding> findings)
    {
        string[] own =
        [
            .. plan
                .Layers.SelectMany(l => l.Settings is null ? [] : l.Settings.Keys.AsEnumerable())
                .Concat(plan.Show.Settings is null ? [] : plan.Show.Settings.Keys.AsEnumerable())
                .Distinct()
                .Where(n => RenderSettings.Find(n) is null)
                .Order(StringComparer.Ordinal),
        ];
        (string Name, string Words)[] rows = [.. RenderSettings.Shipped.Select(s => (s.Name, s.Words)), .. own.Select(n => (n, n))];
        return new GridModel
        {
            View = "settings",
            Revision = revision,
            Corner = "Setting",
            TotalHead = "Show",
            Summary = "a layer that says nothing renders with the show's value",
            Columns =
            [
                .. plan.Layers.Select(l => new GridColumn(l.Name, l.Name, l.BasedOn is { } on ? $"on {on}" : "", l.Off ? "off" : "")),
            ],
            Rows =
            [
                .. rows.Select(r => new GridRow(
                    r.Name,
                    r.Words,
                    r.Name,
                    RenderSettings.Find(r.Name) is null ? "Of this show's own" : "As far as they decide what passes will be",
                    "",
                    plan.Show.Settings?.GetValueOrDefault(r.Name) ?? "",
                    plan.Layers.Any(l => l.Settings?.ContainsKey(r.Name) == true)
                )),
            ],
            Cells = [.. rows.Select(r => plan.Layers.Select(l => Cell(plan, l, r.Name, findings)).ToImmutableArray())],
        };
    }

    private static GridCell Cell(Plan plan, LayerPlan layer, string name, ImmutableArray<PlanFinding> findings)
    {
        string own = layer.Settings?.GetValueOrDefault(name) ?? "",
            shown = own.Length > 0 ? own : plan.Show.Settings?.GetValueOrDefault(name) ?? "";
        PlanFinding[] here = [.. findings.Where(f => f.Layer == layer.Name && f.Field == name)];
        bool differs = plan.FindLayer(layer.BasedOn) is { } on && (on.Settings?.GetValueOrDefault(name) ?? "") != own;
        return new GridCell(
            own,
            shown,
            string.Join(
                ' ',
                new[]
                {
                    own.Length > 0 ? "on"
                    : shown.Length > 0 ? "inherits"
                    : "",
                    differs ? "differs" : "",
                    SheetGrid.Worst(here),
                }.Where(m => m.Length > 0)
            ),
            string.Join('\n', here.Select(f => f.Message))
        );
    }
}
