using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Estimates;
using DuneCrate.Planning.Merging;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Rules;
using DuneCrate.Planning.Sheet;

namespace DuneCrate.Web.Stations.Planning.Grids;

/// <summary>The pass sheet: passes down, layers across.</summary>
internal static class SheetGrid
{
    private static readonly string[] KindOrder = [.. Enum.GetValues<PassKind>().Select(GroupName)];

    public static GridModel Create(Plan plan, int revision, PlanEstimate estimate, ImmutableArray<PlanFinding> findings)
    {
        ILookup<(string, string), PlanFinding> byCell = findings
            .Where(f => f.Layer is not null && f.Pass is not null)
            .ToLookup(f => (f.Layer!, f.Pass!));
        var differing = plan.Layers.Where(l => l.BasedOn is not null).ToDictionary(l => l.Name, l => PlanMerge.Differences(plan, l));
        (string Key, PassDefinition Definition)[] rows = [.. Rows(plan)];
        return new GridModel
        {
            View = "sheet",
            Revision = revision,
            Corner = "Pass",
            TotalHead = "All frames",
            Columns =
            [
                .. plan.Layers.Select(l => new GridColumn(
                    l.Name,
                    l.Name,
                    Small(plan, l),
                    $"{(l.Off ? "off " : "")}{Worst(findings.Where(f => f.Layer == l.Name && f.Pass is null))}",
                    l.BasedOn is null ? "" : $"follows {l.BasedOn}; {differing[l.Name].Length} differences"
                )),
            ],
            Rows =
            [
                .. rows.Select(r => new GridRow(
                    r.Key,
                    r.Definition.TradeName,
                    r.Key,
                    GroupName(r.Definition.Kind),
                    r.Definition.Remark,
                    plan.Layers.Sum(l => estimate.PassBytes.GetValueOrDefault((l.Name, r.Key))) is > 0 and var bytes
                        ? ByteSize.Text(bytes)
                        : "",
                    plan.Layers.Any(l => l.FindPass(r.Key) is not null)
                )
                {
                    Aliases = r.Definition.Aliases,
                }),
            ],
            Cells =
            [
                .. rows.Select(r =>
                    plan.Layers.Select(l => Cell(plan, l, r.Key, byCell[(l.Name, r.Key)], differing.GetValueOrDefault(l.Name)))
                        .ToImmutableArray()
                ),
            ],
            Feet = Feet(plan, estimate),
            Summary = string.Create(
                CultureInfo.InvariantCulture,
                $"{Words.Count(plan.Layers.Length, "layer")}, {Words.Count(plan.Layers.Sum(l => l.Passes.Count()), "pass", "passes")}, "
                    + $"{Words.Count(estimate.Files, "file")}, about {ByteSize.Text(estimate.Bytes)}"
                    + $"{(estimate.Hours is { } hours ? $", {hours:0.#} h on {Words.Count(estimate.Machines, "machine")}" : "")}"
            ),
        };
    }

    /// <summary>The catalogue's passes by kind; members of families where they are planned.</summary>
    private static IEnumerable<(string, PassDefinition)> Rows(Plan plan)
    {
        string[] planned = [.. plan.Layers.SelectMany(l => l.AllPasses).Select(p => p.Pass).Distinct()];
        return plan
            .Catalogue.Passes.SelectMany(d =>
                d.IsFamily
                    ? planned.Where(p => plan.Catalogue.Find(p) == d).Order(StringComparer.Ordinal).Select(p => (p, d))
                    : [(d.Key, d)]
            )
            .OrderBy(r => Array.IndexOf(KindOrder, GroupName(r.Item2.Kind)));
    }

    private static GridCell Cell(
        Plan plan,
        LayerPlan layer,
        string pass,
        IEnumerable<PlanFinding> findings,
        ImmutableArray<PlanChange> differing
    )
    {
        SheetCell cell = PassSheet.Read(plan, layer, pass);
        PlanChange[] own = differing.IsDefault
            ? []
            : [.. differing.Where(d => d.Pass == pass || d.Path.EndsWith("/" + pass, StringComparison.Ordinal))];
        string mark = string.Join(
            ' ',
            new[]
            {
                cell.IsPlanned
                    ? cell.IsOff || layer.Off
                        ? "off"
                        : "on"
                    : "",
                own.Length > 0 ? "differs" : "",
                Worst(findings),
            }.Where(m => m.Length > 0)
        );
        string title = string.Join(
            '\n',
            findings
                .Select(f => f.Message)
                .Concat(
                    own.Select(d =>
                        $"differs from {layer.BasedOn}: "
                        + $"{(d.Before.Length == 0 ? "added" : d.After.Length == 0 ? "taken out" : $"{d.Before} → {d.After}")}"
                    )
                )
        );
        return new GridCell(cell.ToString(), cell.IsPlanned ? Shown(cell) : "", mark, title);
    }

    /// <summary>The short form: type, and what is unusual.</summary>
    private static string Shown(SheetCell cell)
    {
        string text = cell.Type?.Name() ?? "";
        text += cell.Home switch
        {
            PassHome.Own => " own",
            PassHome.Data => " data",
            _ => "",
        };
        text += cell.Threshold is { } edge ? string.Create(CultureInfo.InvariantCulture, $" ≥{edge:0.##}") : "";
        text += cell.Frames is { } frames ? $" {frames}" : "";
        text +=
            cell.Filtered is true ? " filtered"
            : cell.Filtered is false ? " unfiltered"
            : "";
        text +=
            cell.Alpha is true ? " +A"
            : cell.Alpha is false ? " −A"
            : "";
        return (cell.IsOff ? "off " : "") + text + (cell.IsLead ? " lead" : "");
    }

    private static string Small(Plan plan, LayerPlan layer) =>
        string.Join(
            " · ",
            new[]
            {
                layer.Group ?? "",
                layer.Off ? "off" : "",
                layer.BasedOn is { } on ? $"on {on}" : "",
                layer.Frames is { } frames ? frames.ToString() : "",
            }.Where(s => s.Length > 0)
        );

    private static ImmutableArray<GridFoot> Feet(Plan plan, PlanEstimate estimate)
    {
        LayerEstimate? EstimateOf(LayerPlan layer) => estimate.Layers.FirstOrDefault(l => l.Layer == layer.Name);
        string Text(LayerPlan layer, Func<LayerEstimate, string> text) => EstimateOf(layer) is { } found ? text(found) : "";
        GridFoot[] feet =
        [
            new("Files", [.. plan.Layers.Select(l => Text(l, e => Words.Number(e.Files)))], Words.Number(estimate.Files)),
            new(
                "A frame",
                [.. plan.Layers.Select(l => Text(l, e => ByteSize.Text(e.BytesPerFrame)))],
                ByteSize.Text(estimate.Layers.Sum(l => l.BytesPerFrame))
            ),
            new("All frames", [.. plan.Layers.Select(l => Text(l, e => ByteSize.Text(e.Bytes)))], ByteSize.Text(estimate.Bytes)),
        ];
        return !estimate.Layers.Any(l => l.Hours is not null)
            ? [.. feet]
            :
            [
                .. feet,
                new(
                    "Machine hours",
                    [.. plan.Layers.Select(l => Text(l, e => e.Hours is { } h ? h.ToString("0.00", CultureInfo.InvariantCulture) : ""))],
                    estimate.Hours is { } all ? (all * estimate.Machines).ToString("0.00", CultureInfo.InvariantCulture) : ""
                ),
            ];
    }

    internal static string Worst(IEnumerable<PlanFinding> findings) =>
        findings.Select(f => (Severity?)f.Severity).Min() is { } worst ? Words.Choice(worst) : "";

    internal static string GroupName(PassKind kind) =>
        kind switch
        {
            PassKind.Combined => "The finished picture",
            PassKind.Light => "Shares of the light, summed",
            PassKind.Factor => "Factors, multiplied into light",
            PassKind.Modulate => "Occlusion and shadow, multiplied over",
            PassKind.Mask => "Masks",
            PassKind.Data => "Data, not colour",
            PassKind.Identity => "Identity, exact values",
            _ => "Looks, laid over",
        };
}
