using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Core.Frames;

namespace DuneCrate.Core.Checks;

/// <summary>What a summary needs of a shot.</summary>
/// <param name="Code">Its code.</param>
/// <param name="Lanes">Its frame map.</param>
/// <param name="Report">The newest report with waivers and notes, or null before the first check.</param>
/// <param name="Checked">When that ended, UTC.</param>
/// <param name="IsStale">Whether the plan was changed since.</param>
/// <param name="Crate">The newest sealed crate, or null.</param>
public sealed record ShotState(
    string Code,
    ImmutableArray<FrameLane> Lanes,
    CheckReport? Report,
    DateTime? Checked,
    bool IsStale,
    string? Crate
);

/// <summary>The document <c>dune-crate.show-report/1</c>: where all shots of a show stand, and what is wrong across them. Made from plans and reports alone. Immutable.</summary>
/// <param name="Show">The show's code.</param>
/// <param name="Name">The show's name.</param>
/// <param name="Shots">A line per shot, by code.</param>
/// <param name="Rules">What is found across the shots: the worst first, then what is found in most shots. Waived findings are left out.</param>
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
    public static ShowReport Of(string show, string name, IEnumerable<ShotState> shots)
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
    public string Write() => JsonSerializer.Serialize(this, DocumentJson.Options) + "\n";

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

/// <summary>Where a shot stands.</summary>
/// <param name="Shot">Its code.</param>
/// <param name="Checked">When it was checked last, UTC; null for never.</param>
/// <param name="Depth">How deep: header or pixels; null for never.</param>
/// <param name="Stale">Whether the plan was changed since.</param>
/// <param name="Planned">Files planned.</param>
/// <param name="Here">Those of them that are here.</param>
/// <param name="Missing">Those of them that the check did not find.</param>
/// <param name="Files">Files found.</param>
/// <param name="Bytes">Their bytes.</param>
/// <param name="Blockers">Findings that keep a crate from being sealed.</param>
/// <param name="Warnings">Findings that a person must look at.</param>
/// <param name="Notes">Notes.</param>
/// <param name="Waived">Findings that were accepted.</param>
/// <param name="Rerun">Frames to render again, over all layers.</param>
/// <param name="Crate">The newest sealed crate, or null.</param>
public sealed record ShotLine(
    string Shot,
    DateTime? Checked,
    string? Depth,
    bool Stale,
    long Planned,
    long Here,
    long Missing,
    int Files,
    long Bytes,
    int Blockers,
    int Warnings,
    int Notes,
    int Waived,
    long Rerun,
    string? Crate
);

/// <summary>What one rule found across a show.</summary>
/// <param name="Rule">The rule's id.</param>
/// <param name="Severity">The severity of these findings.</param>
/// <param name="Findings">How many.</param>
/// <param name="Frames">Frames in them.</param>
/// <param name="Shots">In which shots.</param>
public sealed record RuleLine(string Rule, Severity Severity, int Findings, long Frames, ImmutableArray<string> Shots);

/// <summary>What a person has in hand.</summary>
/// <param name="To">The person.</param>
/// <param name="Findings">The findings, by shot.</param>
public sealed record HandsLine(string To, ImmutableArray<HandedFinding> Findings);

/// <summary>A finding in somebody's hands.</summary>
public sealed record HandedFinding(string Shot, string Rule, string Output, string? Pass, FrameSet Frames, string Note);

/// <summary>A whole show in numbers; see <see cref="ShotLine"/>.</summary>
public sealed record ShowTotals(
    int Shots,
    int Checked,
    long Planned,
    long Here,
    long Missing,
    long Files,
    long Bytes,
    int Blockers,
    int Warnings,
    int Notes,
    int Waived,
    long Rerun
);
