using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Intake;

namespace DuneCrate.Core.Checks;

/// <summary>The document <c>dune-crate.report/1</c>: what one check found. Immutable.</summary>
public sealed record CheckReport
{
    /// <summary>The document's schema name.</summary>
    public const string SchemaName = "dune-crate.report/1";

    /// <summary>Always <see cref="SchemaName"/>.</summary>
    [JsonPropertyOrder(-1)]
    public string Schema { get; init; } = SchemaName;

    /// <summary>The folder that was checked.</summary>
    public required string Root { get; init; }

    /// <summary>How much was read.</summary>
    public required FactsDepth Depth { get; init; }

    /// <summary>What the show changed about rules, by rule id; null when nothing.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public OrderedDictionary<string, RuleSetting>? Rules { get; init; }

    /// <summary>The sequences and stills found.</summary>
    public required ImmutableArray<SequenceSummary> Sequences { get; init; }

    /// <summary>The findings, by severity, output, rule and first frame.</summary>
    public required ImmutableArray<Finding> Findings { get; init; }

    /// <summary>What must be rendered again, per layer.</summary>
    public required ImmutableArray<RerunEntry> Rerun { get; init; }

    /// <summary>Counts.</summary>
    public required CheckSummary Summary { get; init; }

    /// <summary>The document's text.</summary>
    public string Write() => JsonSerializer.Serialize(this, DocumentJson.Options) + "\n";

    /// <summary>The report with waivers laid over its findings; counts and rerun list follow.</summary>
    public CheckReport With(IReadOnlyCollection<Waiver> waivers)
    {
        ImmutableArray<Finding> findings =
        [
            .. Findings.Select(f =>
                f with
                {
                    Waived = waivers.FirstOrDefault(w => w.Covers(f)) is { } w ? new WaiverNote(w.By, w.Reason) : null,
                }
            ),
        ];
        return this with { Findings = findings, Rerun = RerunEntry.Of(findings), Summary = Summary.Count(findings) };
    }

    /// <summary>The report with what is in whose hands; of several notes about a finding the last counts.</summary>
    public CheckReport With(IReadOnlyCollection<FindingNote> notes) =>
        this with
        {
            Findings =
            [
                .. Findings.Select(f =>
                    f with
                    {
                        Handed = notes.LastOrDefault(n => n.Covers(f)) is { } n ? new HandedNote(n.To, n.By, n.Note, n.At) : null,
                    }
                ),
            ],
        };
}

/// <summary>A sequence or still of a report.</summary>
/// <param name="Name">With one <c>#</c> per digit.</param>
/// <param name="Layer">The layer of the output that claims it, else its first folder.</param>
/// <param name="Frames">Frames found; empty for a still.</param>
/// <param name="Missing">Frames planned and not found; without a plan the gaps.</param>
/// <param name="Padding">Digits; 0 for a still.</param>
/// <param name="Files">Files.</param>
/// <param name="Bytes">Bytes of all files.</param>
/// <param name="Width">Display window width of the first file that opens, or 0.</param>
/// <param name="Height">Display window height of the first file that opens, or 0.</param>
public sealed record SequenceSummary(
    string Name,
    string Layer,
    FrameSet Frames,
    FrameSet Missing,
    int Padding,
    int Files,
    long Bytes,
    int Width,
    int Height
)
{
    /// <summary>Whether an output of the plan claims it; true for all without a plan.</summary>
    public bool Planned { get; init; } = true;
}

/// <summary>Frames of a layer that must be rendered again.</summary>
public sealed record RerunEntry(string Layer, FrameSet Frames)
{
    /// <summary>The rerun list of findings: those not waived whose remedy is to render again, merged per layer.</summary>
    public static ImmutableArray<RerunEntry> Of(IEnumerable<Finding> findings) =>
        [
            .. findings
                .Where(f => f is { RemedyKind: RemedyKind.Rerender, Waived: null, Layer: not null, Frames.IsEmpty: false })
                .GroupBy(f => f.Layer!)
                .OrderBy(g => g.Key, StringComparer.Ordinal)
                .Select(g => new RerunEntry(g.Key, FrameSet.UnionOf(g.Select(f => f.Frames)))),
        ];
}

/// <summary>Counts of a report. Waived findings do not count.</summary>
public sealed record CheckSummary(int Blockers, int Warnings, int Notes, int Files, long Bytes, double Seconds)
{
    /// <summary>The same run with other findings.</summary>
    public CheckSummary Count(IReadOnlyCollection<Finding> findings) =>
        this with
        {
            Blockers = findings.Count(f => f.Severity == Severity.Blocker && f.Waived is null),
            Warnings = findings.Count(f => f.Severity == Severity.Warning && f.Waived is null),
            Notes = findings.Count(f => f.Severity == Severity.Note && f.Waived is null),
        };
}
