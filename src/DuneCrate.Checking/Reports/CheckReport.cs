using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Reports;

/// <summary>The document <c>dune-crate.report/1</c>: what one check found. Immutable.</summary>
public sealed record CheckReport
{
    /// <summary>The document's schema name.</summary>
    public const string SchemaName = "dune-crate.report/1";

    /// <summary>How a report's text is read and written.</summary>
    internal static readonly JsonSerializerOptions Options = DocumentJson.Ahead(ReportJson.Default);

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

    /// <summary>How light passes sum to beauties, per layer and run of frames; null when no pixels were read.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public ImmutableArray<RebuildEntry>? Rebuild { get; init; }

    /// <summary>What must be rendered again, per layer.</summary>
    public required ImmutableArray<RerunEntry> Rerun { get; init; }

    /// <summary>Counts.</summary>
    public required CheckSummary Summary { get; init; }

    /// <summary>Reads a report that was kept; passes that had other keys then get those of today.</summary>
    /// <exception cref="JsonException">The text is no report.</exception>
    public static CheckReport Read(string json)
    {
        var report = DocumentJson.Read<CheckReport>(json, Options);
        return report.Findings.All(f => FormerKeys.Today(f.Pass) == f.Pass)
            ? report
            : report with
            {
                Findings = [.. report.Findings.Select(f => f with { Pass = FormerKeys.Today(f.Pass) })],
            };
    }

    /// <summary>The document's text.</summary>
    public string Write() => JsonSerializer.Serialize(this, Options.Of<CheckReport>()) + "\n";

    /// <summary>Whether another check found the same, however long it took.</summary>
    public bool SaysTheSameAs(CheckReport other) =>
        (this with { Summary = Summary with { Seconds = 0 } }).Write()
        == (other with { Summary = other.Summary with { Seconds = 0 } }).Write();

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
        return this with { Findings = findings, Rerun = RerunEntry.From(findings), Summary = Summary.Count(findings) };
    }

    /// <summary>The report with what receivers sent back, among its findings; counts and rerun list follow.</summary>
    public CheckReport With(IReadOnlyCollection<SentBack> sentBack)
    {
        if (sentBack.Count == 0)
        {
            return this;
        }

        ImmutableArray<Finding> findings =
        [
            .. Findings
                .Concat(sentBack.Select(s => s.ToFinding()))
                .OrderBy(f => f.Severity)
                .ThenBy(f => f.Output, StringComparer.Ordinal)
                .ThenBy(f => f.Rule, StringComparer.Ordinal),
        ];
        return this with { Findings = findings, Rerun = RerunEntry.From(findings), Summary = Summary.Count(findings) };
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
