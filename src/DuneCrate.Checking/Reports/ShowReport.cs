using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Checking.Findings;
using DuneCrate.Foundation.Documents;

namespace DuneCrate.Checking.Reports;

/// <summary>
/// The document <c>dune-crate.show-report/1</c>: where all shots of a show stand, and what is wrong across them. Made from plans and
/// reports alone. Immutable.
/// </summary>
/// <param name="Show">The show's code.</param>
/// <param name="Name">The show's name.</param>
/// <param name="Shots">A line per shot, by code.</param>
/// <param name="Rules">What is found across the shots: the worst first, then what is found in most shots. Waived findings are left
/// out.</param>
/// <param name="Hands">What is in whose hands, by person.</param>
/// <param name="Totals">Everything together.</param>
public sealed record ShowReport(
    string Show,
    string Name,
    ImmutableArray<ShotLine> Shots,
    ImmutableArray<RuleLine> Rules,
    ImmutableArray<HandsLine> Hands,
    ShowTotals Totals
)
{
    /// <summary>The document's schema name.</summary>
    public const string SchemaName = "dune-crate.show-report/1";

    /// <summary>Always <see cref="SchemaName"/>.</summary>
    [JsonPropertyOrder(-1)]
    public string Schema => SchemaName;

    /// <summary>Sums up a show.</summary>
    public static ShowReport From(string show, string name, IEnumerable<ShotState> shots)
    {
        ShotState[] states = [.. shots.OrderBy(s => s.Code, StringComparer.Ordinal)];
        ImmutableArray<ShotLine> lines = [.. states.Select(Line)];
        (string Shot, Finding Finding)[] open =
        [
            .. states.SelectMany(s => (s.Report?.Findings ?? []).Where(f => f.Waived is null).Select(f => (s.Code, f))),
        ];
        return new ShowReport(
            show,
            name,
            lines,
            [
                .. open.GroupBy(o => (o.Finding.Rule, o.Finding.Severity))
                    .Select(g => new RuleLine(
                        g.Key.Rule,
                        g.Key.Severity,
                        g.Count(),
                        g.Sum(o => o.Finding.Frames.LongCount),
                        [.. g.Select(o => o.Shot).Distinct()]
                    ))
                    .OrderBy(r => r.Severity)
                    .ThenByDescending(r => r.Shots.Length)
                    .ThenByDescending(r => r.Frames)
                    .ThenBy(r => r.Rule, StringComparer.Ordinal),
            ],
            [
                .. open.Where(o => o.Finding.Handed is not null)
                    .GroupBy(o => o.Finding.Handed!.To, StringComparer.OrdinalIgnoreCase)
                    .OrderBy(g => g.Key, StringComparer.OrdinalIgnoreCase)
                    .Select(g => new HandsLine(
                        g.First().Finding.Handed!.To,
                        [
                            .. g.Select(o => new HandedFinding(
                                o.Shot,
                                o.Finding.Rule,
                                o.Finding.Output,
                                o.Finding.Pass,
                                o.Finding.Frames,
                                o.Finding.Handed!.Note
                            )),
                        ]
                    )),
            ],
            new ShowTotals(
                lines.Length,
                lines.Count(l => l.Checked is not null),
                lines.Sum(l => l.Planned),
                lines.Sum(l => l.Here),
                lines.Sum(l => l.Missing),
                lines.Sum(l => l.Files),
                lines.Sum(l => l.Bytes),
                lines.Sum(l => l.Blockers),
                lines.Sum(l => l.Warnings),
                lines.Sum(l => l.Notes),
                lines.Sum(l => l.Waived),
                lines.Sum(l => l.Rerun)
            )
        );
    }

    /// <summary>The document's text.</summary>
    public string Write() => JsonSerializer.Serialize(this, CheckReport.Options.Of<ShowReport>()) + "\n";

    private static ShotLine Line(ShotState shot)
    {
        long Frames(Func<FrameState, bool> which) => shot.Lanes.Sum(l => l.Runs.Where(r => which(r.State)).Sum(r => r.Frames.LongCount));
        CheckSummary? counted = shot.Report?.Summary;
        return new ShotLine(
            shot.Code,
            shot.Checked,
            shot.Report?.Depth.ToString().ToLowerInvariant(),
            shot.IsStale,
            Frames(s => s != FrameState.Unplanned),
            Frames(s => s is not (FrameState.Unplanned or FrameState.Missing or FrameState.Pending)),
            Frames(s => s == FrameState.Missing),
            counted?.Files ?? 0,
            counted?.Bytes ?? 0,
            counted?.Blockers ?? 0,
            counted?.Warnings ?? 0,
            counted?.Notes ?? 0,
            shot.Report?.Findings.Count(f => f.Waived is not null) ?? 0,
            shot.Report?.Rerun.Sum(r => r.Frames.LongCount) ?? 0,
            shot.Crate
        );
    }
}
