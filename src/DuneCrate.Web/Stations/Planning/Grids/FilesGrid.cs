using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Exr;
using DuneCrate.Foundation.Documents;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Estimates;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Rules;
using DuneCrate.Planning.Sheet;

namespace DuneCrate.Web.Stations.Planning.Grids;

/// <summary>Files: outputs down; name, padding, compression and what comes of them across.</summary>
internal static class FilesGrid
{
    /// <summary>Columns that only say what comes of the others.</summary>
    private static readonly string[] ComputedColumns = ["first", "middle", "last", "files", "size"];

    public static GridModel Create(Plan plan, int revision, PlanEstimate estimate, ImmutableArray<PlanFinding> findings)
    {
        var rows = plan.Layers.SelectMany(l => l.Outputs.SelectMany(o => RowsOf(l, o))).ToArray();
        return new GridModel
        {
            View = "files",
            Revision = revision,
            Corner = "Files of",
            Summary =
                Words.Count(plan.Layers.Sum(l => l.Outputs.Length), "kind")
                + " of files; {show} {shot} {layer} {pass} {version} {frame} are filled in",
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
                    r.Pass is null ? $"{r.Layer.Name}|{r.Home}" : $"{r.Layer.Name}|{r.Home}|{r.Pass.Pass}",
                    r.Home switch
                    {
                        PassHome.Own => r.Pass?.Pass ?? "a file per pass",
                        PassHome.Data => "data",
                        _ => "shared",
                    },
                    r.Pass is null ? Words.Count(r.Output.Passes.Count(p => !p.Off), "pass", "passes") : "its own file",
                    $"{r.Layer.Name}: {ArrangeOutputs.Words(ArrangeOutputs.From(plan, r.Layer))}",
                    r.Pass is null ? string.Join(", ", r.Output.Passes.Select(p => p.Pass)) : $"Name and format of {r.Pass.Pass} alone",
                    "",
                    true
                )),
            ],
            Cells = [.. rows.Select(r => Line(estimate, r, findings))],
        };
    }

    /// <summary>One row: an output, or one pass of an output that is a file per pass.</summary>
    private readonly record struct FilesRow(LayerPlan Layer, OutputPlan Output, PassHome Home, PassPlan? Pass);

    /// <summary>An output, and below a file per pass a row for each, so that any can be named and packed by itself.</summary>
    private static IEnumerable<FilesRow> RowsOf(LayerPlan layer, OutputPlan output)
    {
        PassHome home = PassSheet.HomeOf(layer, output);
        if (output is not { IsPerPass: true, Passes.Length: 1 })
        {
            yield return new FilesRow(layer, output, home, null);
        }

        foreach (PassPlan pass in output.IsPerPass ? output.Passes : [])
        {
            yield return new FilesRow(layer, output, home, pass);
        }
    }

    private static ImmutableArray<GridCell> Line(PlanEstimate estimate, FilesRow row, ImmutableArray<PlanFinding> findings)
    {
        (LayerPlan layer, OutputPlan output, _, PassPlan? pass) = row;
        OutputEstimate[] made =
        [
            .. estimate.Outputs.Where(e =>
                e.Output.Layer == layer && e.Output.Output == output && (pass is null || e.Output.Passes.Contains(pass))
            ),
        ];
        PlannedOutput? first = made.FirstOrDefault()?.Output,
            last = made.LastOrDefault()?.Output;
        string Path(PlannedOutput? o, Func<Foundation.Frames.FrameSet, int> frame) =>
            o is null || o.Frames.IsEmpty ? "" : o.Name.At(frame(o.Frames));
        GridCell Field(string column, string text)
        {
            PlanFinding[] here =
            [
                .. findings.Where(f =>
                    f.Layer == layer.Name
                    && f.Field == column
                    && (pass is null ? output.Passes.Any(p => p.Pass == f.Pass) : pass.Pass == f.Pass)
                ),
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
