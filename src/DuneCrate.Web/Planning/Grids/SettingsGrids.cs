using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Core;
using DuneCrate.Core.Images.Exr;
using DuneCrate.Core.Planning;
using DuneCrate.Core.Planning.Edits;
using DuneCrate.Core.Planning.Estimates;
using DuneCrate.Core.Planning.Rules;
using DuneCrate.Core.Planning.Sheet;

namespace DuneCrate.Web.Planning.Grids;

/// <summary>Render settings: names down, layers across; the show's value where a layer says nothing.</summary>
internal static class SettingsGrid
{
    public static GridModel Make(Plan plan, int revision, ImmutableArray<PlanFinding> findings)
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

/// <summary>Files: outputs down; name, padding, compression and what comes of them across.</summary>
internal static class FilesGrid
{
    /// <summary>Columns that only say what comes of the others.</summary>
    private static readonly string[] Told = ["first", "middle", "last", "files", "size"];

    public static GridModel Make(Plan plan, int revision, PlanEstimate estimate, ImmutableArray<PlanFinding> findings)
    {
        var rows = plan.Layers.SelectMany(l => l.Outputs.Select(o => (Layer: l, Output: o, Home: PassSheet.HomeOf(l, o)))).ToArray();
        return new GridModel
        {
            View = "files",
            Revision = revision,
            Corner = "Files of",
            Summary = $"{rows.Length} kinds of files; {{show}} {{shot}} {{layer}} {{pass}} {{version}} {{frame}} are filled in",
            Columns =
            [
                new("template", "Name"),
                new("padding", "Digits"),
                new("compression", "Packed", Options: [.. ExrCompression.All.Select(c => c.Name)]),
                .. Told.Select(t => new GridColumn(
                    t,
                    t switch
                    {
                        "first" => "First path",
                        "middle" => "A middle one",
                        "last" => "Last",
                        "files" => "Files",
                        _ => "Size",
                    },
                    Mark: "told"
                )),
            ],
            Rows =
            [
                .. rows.Select(r => new GridRow(
                    $"{r.Layer.Name}|{r.Home}",
                    r.Home switch
                    {
                        PassHome.Own => "a file per pass",
                        PassHome.Data => "data",
                        _ => "shared",
                    },
                    $"{r.Output.Passes.Count(p => !p.Off)} passes",
                    $"{r.Layer.Name}: {ArrangeOutputs.Words(ArrangeOutputs.Of(plan, r.Layer))}",
                    string.Join(", ", r.Output.Passes.Select(p => p.Pass)),
                    "",
                    true
                )),
            ],
            Cells = [.. rows.Select(r => Line(estimate, r.Layer, r.Output, findings))],
        };
    }

    private static ImmutableArray<GridCell> Line(
        PlanEstimate estimate,
        LayerPlan layer,
        OutputPlan output,
        ImmutableArray<PlanFinding> findings
    )
    {
        OutputEstimate[] made = [.. estimate.Outputs.Where(e => e.Output.Layer == layer && e.Output.Output == output)];
        PlannedOutput? first = made.FirstOrDefault()?.Output,
            last = made.LastOrDefault()?.Output;
        string Path(PlannedOutput? o, Func<Core.Frames.FrameSet, int> frame) =>
            o is null || o.Frames.IsEmpty ? "" : o.Name.At(frame(o.Frames));
        GridCell Field(string column, string text)
        {
            PlanFinding[] here =
            [
                .. findings.Where(f => f.Layer == layer.Name && f.Field == column && output.Passes.Any(p => p.Pass == f.Pass)),
            ];
            return new GridCell(
                text,
                text,
                string.Join(' ', new[] { "on", SheetGrid.Worst(here) }.Where(m => m.Length > 0)),
                string.Join('\n', here.Select(f => f.Message))
            );
        }

        GridCell Said(string text) => new(text, text, "told", "");
        return
        [
            Field("template", output.Template),
            Field("padding", output.Padding.ToString(CultureInfo.InvariantCulture)),
            Field("compression", output.Compression ?? "zip"),
            Said(Path(first, f => f.First)),
            Said(Path(made.ElementAtOrDefault(made.Length / 2)?.Output, f => f.Nearest(f.First + (f.Last - f.First) / 2))),
            Said(Path(last, f => f.Last)),
            Said(made.Sum(e => e.Files).ToString("N0", CultureInfo.InvariantCulture)),
            Said(made.Length == 0 ? "" : $"{ByteSize.Text(made.Sum(e => e.Bytes))}{(made[0].IsMeasured ? "" : " ?")}"),
        ];
    }
}
