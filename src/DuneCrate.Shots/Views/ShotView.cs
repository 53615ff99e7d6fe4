using System.Collections.Immutable;
using System.Runtime.CompilerServices;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Reports;
using DuneCrate.Checking.Rules;
using DuneCrate.Crates.Recipes;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Rules;
using DuneCrate.Foundation.Storage;
using DuneCrate.Planning.Model;
using DuneCrate.Shots.Roots;
using DuneCrate.Store.Rows;

namespace DuneCrate.Shots.Views;

/// <summary>Everything that the stations of one shot share.</summary>
public sealed class ShotView
{
    private static readonly ConditionalWeakTable<CheckReport, Tuple<Plan, ImmutableArray<FrameMapRow>>> KnownRows = [];

    /// <summary>The shot.</summary>
    public required ShotRow Row { get; init; }

    /// <summary>Its plan.</summary>
    public required Plan Plan { get; init; }

    /// <summary>What the files look like they were planned as, where nothing is planned; null when it is not known.</summary>
    public Plan? Guess { get; init; }

    /// <summary>Whether anything is planned.</summary>
    public bool IsPlanned => !Plan.Layers.IsEmpty;

    /// <summary>What map, ladder and pictures go by: the plan, or without one the guess.</summary>
    public Plan Seen => IsPlanned ? Plan : Guess ?? Plan;

    /// <summary>What is wrong with the plan as it is kept; what cannot be used of it is left out of <see cref="Plan"/>.</summary>
    public required ImmutableArray<PlanProblem> PlanProblems { get; init; }

    /// <summary>The newest check in whatever state, or null.</summary>
    public required CheckRow? Newest { get; init; }

    /// <summary>The newest finished check, or null.</summary>
    public required CheckRow? Reported { get; init; }

    /// <summary>Its report with waivers, or null.</summary>
    public required CheckReport? Report { get; init; }

    /// <summary>Waivers.</summary>
    public required List<WaiverRow> Waivers { get; init; }

    /// <summary>Crates, newest first.</summary>
    public required List<CrateRow> Crates { get; init; }

    /// <summary>The folder with the files, or null when none was named. It may be gone.</summary>
    public required StoragePath? Folder { get; init; }

    /// <summary>The folders that the show may be worked on in.</summary>
    public required ShowGround Ground { get; init; }

    /// <summary>What those who get crates of the show want.</summary>
    public IReadOnlyList<CrateRecipe> Receivers { get; init; } = [];

    /// <summary>What the address asks for.</summary>
    public required Selection Wanted { get; init; }

    /// <summary>The lanes of the frame map.</summary>
    public ImmutableArray<FrameMapRow> Lanes => field.IsDefault ? field = RowsOf(Seen, Report) : field;

    /// <summary>The lanes that the filter leaves.</summary>
    public ImmutableArray<FrameMapRow> ShownRows => field.IsDefault ? field = FrameMap.Only(Lanes, Report, Wanted.Shown.Filter) : field;

    /// <summary>What the frame map shows, in short: "12 outputs, 282 files, 92.8 MiB".</summary>
    public string MapSummary =>
        (
            ShownRows.Length == Lanes.Length
                ? Words.Count(Lanes.Length, "output")
                : $"{ShownRows.Length} of {Words.Count(Lanes.Length, "output")}"
        ) + (Report is { Summary: { } all } ? $", {Words.Count(all.Files, "file")}, {ByteSize.Text(all.Bytes)}" : ", nothing checked yet");

    /// <summary>The frames that something blocks, and those that something else speaks of.</summary>
    public (FrameSet Blocked, FrameSet Suspect) Wrong
    {
        get
        {
            IEnumerable<Finding> findings = Report?.Findings ?? [];
            FrameSet blocked = FrameSet.UnionOf(findings.Where(f => f.Blocks).Select(f => f.Frames));
            var suspect = FrameSet.UnionOf(findings.Where(f => f.Severity == Severity.Warning && f.Waived is null).Select(f => f.Frames));
            return (blocked, suspect.Except(blocked));
        }
    }

    /// <summary>The findings that the filter leaves, in the order asked for.</summary>
    public ImmutableArray<Finding> ShownFindings =>
        field.IsDefault ? field = Wanted.Shown.Filter.Apply(Report?.Findings ?? [], Wanted.Shown.Order, PassesOf) : field;

    /// <summary>The frames of the ruler: the shot's, and those found outside it.</summary>
    public FrameSet Range => field ??= FrameSet.UnionOf(Lanes.SelectMany(l => l.Runs).Select(r => r.Frames).Prepend(Plan.Shot.Frames));

    /// <summary>What is looked at, with layer, pass and frame filled in.</summary>
    public Selection Selected => field ??= Select();

    /// <summary>The output that holds the selected pass, or null without layers.</summary>
    public PlannedOutput? Output =>
        field ??= Outputs.FirstOrDefault(o => o.Layer.Name == Selected.Layer && o.Passes.Any(p => p.Pass == Selected.Pass));

    /// <summary>The lane of that output, or null.</summary>
    public FrameMapRow? Lane => Output is null ? null : Lanes.FirstOrDefault(l => l.Output == Output.Key);

    /// <summary>Every planned output.</summary>
    public ImmutableArray<PlannedOutput> Outputs => field.IsDefault ? field = PlannedOutput.From(Seen) : field;

    private Dictionary<string, PlannedOutput> ByKey => field ??= Outputs.DistinctBy(o => o.Key).ToDictionary(o => o.Key);

    /// <summary>Whether the plan was changed since the report.</summary>
    public bool IsStale => Reported is not null && Reported.Revision != Row.Revision;

    /// <summary>Key of the newest finished check, or 0.</summary>
    public int ReportId => Reported?.Id ?? 0;

    /// <summary>Whether a check is waiting or running, as far as the database knows.</summary>
    public bool IsChecking => Newest?.State is JobState.Queued or JobState.Running;

    /// <summary>Whether pixels were read for the report.</summary>
    public bool HasPixels => Report?.Depth == FactsDepth.Pixels;

    /// <summary>The lanes, worked out once for a plan and a report.</summary>
    private static ImmutableArray<FrameMapRow> RowsOf(Plan plan, CheckReport? report)
    {
        if (report is null)
        {
            return FrameMap.From(plan, null);
        }

        if (!KnownRows.TryGetValue(report, out var known) || !ReferenceEquals(known.Item1, plan))
        {
            KnownRows.AddOrUpdate(report, known = new(plan, FrameMap.From(plan, report)));
        }

        return known.Item2;
    }

    /// <summary>Address of a station with the selection.</summary>
    public string Href(string station, Selection? selection = null) =>
        $"/{Row.Show.Code}/{Row.Code}/{station}{(selection ?? Selected).Query}";

    /// <summary>The six stations.</summary>
    public ImmutableArray<Station> Stations => field.IsDefault ? field = StationStates.Of(this) : field;

    /// <summary>Findings that are not waived, of a severity.</summary>
    public int Count(Severity severity) => Report?.Findings.Count(f => f.Severity == severity && f.Waived is null) ?? 0;

    /// <summary>The selection that shows a finding.</summary>
    public Selection For(Finding finding)
    {
        PlannedOutput? output = ByKey.GetValueOrDefault(finding.Output);
        return new Selection(
            output?.Layer.Name ?? finding.Layer ?? Selected.Layer,
            finding.Pass ?? output?.Passes.FirstOrDefault()?.Pass ?? Selected.Pass,
            finding.Frames.IsEmpty ? Selected.Frame : finding.Frames.First,
            Wanted.Shown
        );
    }

    private IEnumerable<string> PassesOf(string output) => ByKey.GetValueOrDefault(output)?.Passes.Select(p => p.Pass) ?? [];

    /// <summary>Frames of a layer in which the light passes do not reach the beauty.</summary>
    public FrameSet Unsummed(string? layer = null) =>
        FrameSet.UnionOf(
            (Report?.Findings ?? [])
                .Where(f => RuleBook.Find(f.Rule)?.Evidence == EvidenceKind.Residual && (layer is null || f.Layer == layer))
                .Select(f => f.Frames)
        );

    private Selection Select()
    {
        LayerPlan? layer = Seen.Layers.FirstOrDefault(l => l.Name == Wanted.Layer) ?? Seen.Layers.FirstOrDefault();
        string? pass = layer?.FindPass(Wanted.Pass ?? "")?.Pass ?? layer?.LeadPass;
        return new Selection(
            layer?.Name,
            pass,
            Wanted.Frame is { } frame ? Math.Clamp(frame, Range.First, Range.Last) : Range.First,
            Wanted.Shown
        );
    }
}
