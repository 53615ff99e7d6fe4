using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Core.Documents;
using DuneCrate.Core.Images.Exr;
using DuneCrate.Core.Planning.Edits;
using DuneCrate.Core.Planning.Estimates;
using DuneCrate.Core.Planning.Model;
using DuneCrate.Core.Planning.Rules;
using DuneCrate.Core.Planning.Sheet;

namespace DuneCrate.Web.Stations.Planning.Grids;

/// <summary>Files: outputs down; name, padding, compression and what comes of them across.</summary>
internal static class FilesGrid
{
    /// <summary>Columns that only say what comes of the others.</summary>
    private static readonly string[] ComputedColumns = ["first", "middle", "last", "files", "size"];

    public static GridModel Create(Plan plan, int revision, PlanEstimate estimate, ImmutableArray<PlanFinding> findings)
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
                .. ComputedColumns.Select(t => new GridColumn(
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
                    $"{r.Layer.Name}: {ArrangeOutputs.Words(ArrangeOutputs.From(plan, r.Layer))}",
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
            Said(Words.Number(made.Sum(e => e.Files))),
            Said(made.Length == 0 ? "" : $"{ByteSize.Text(made.Sum(e => e.Bytes))}{(made[0].IsMeasured ? "" : " ?")}"),
        ];
    }
}
