using System.Collections.Concurrent;
using System.Runtime.CompilerServices;
using System.Text.Json;
using DuneCrate.Core;
using DuneCrate.Core.Checks;
using DuneCrate.Core.Intake;
using DuneCrate.Core.Planning;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Roots;
using DuneCrate.Web.Work;

namespace DuneCrate.Web.Shots;

/// <summary>
/// Lays out what pages show of a shot: plan, newest report with waivers, lanes, crates. Parsed documents are kept by key and
/// revision, so a page costs a few small queries.
/// </summary>
public sealed class ShotDesk(ShowStore store, StorageRoots roots, IFactsCache facts, ReadLimits limits)
{
    private const int MostKept = 64;

    private readonly ConcurrentDictionary<int, (int Revision, string Json, string? ShowJson, Plan Plan)> _plans = new();
    private readonly ConcurrentDictionary<int, (string? Json, string Name, ShowPlan Show)> _shows = new();
    private readonly ConcurrentDictionary<int, (int CheckId, CheckReport Report)> _reports = new();
    private readonly ConcurrentDictionary<int, Intake> _intakes = new();
    private readonly ConcurrentDictionary<int, (CheckReport Bare, string Over, CheckReport Report)> _shown = new();
    private readonly ConditionalWeakTable<Intake, CheckContext> _contexts = [];

    /// <summary>What a show settles for its shots.</summary>
    public ShowPlan ShowOf(ShowRow show)
    {
        if (!_shows.TryGetValue(show.Id, out var known) || known.Json != show.SettingsJson || known.Name != show.Name)
        {
            ShowPlan settings = show.SettingsJson is { } json ? JsonSerializer.Deserialize<ShowPlan>(json, DocumentJson.Options)! : new ShowPlan { Code = show.Code };
            known = _shows[show.Id] = (show.SettingsJson, show.Name, settings with { Code = show.Code, Name = show.Name });
        }

        return known.Show;
    }

    /// <summary>The plan of a shot, with what its show settles.</summary>
    /// <exception cref="FormatException">What is stored is no plan.</exception>
    public Plan PlanOf(ShotRow shot)
    {
        if (_plans.TryGetValue(shot.Id, out var known) && known.Revision == shot.Revision && known.Json == shot.PlanJson && known.ShowJson == shot.Show.SettingsJson)
        {
            return known.Plan;
        }

        Plan plan = PlanDocument.Read(shot.PlanJson).Plan ?? throw new FormatException($"The stored plan of {shot.Code} cannot be read.");
        plan = plan with { Show = ShowOf(shot.Show) };
        _plans[shot.Id] = (shot.Revision, shot.PlanJson, shot.Show.SettingsJson, plan);
        return plan;
    }

    /// <summary>Keeps what a check found, for pages that need more than its report.</summary>
    public void Keep(int checkId, Intake intake)
    {
        if (_intakes.Count >= MostKept)
        {
            _intakes.Clear();
        }

        _intakes[checkId] = intake;
    }

    /// <summary>The intake behind a report; taken again from the cache of facts when the application was started since. Null when the folder is gone.</summary>
    public async Task<Intake?> IntakeAsync(ShotRow shot, Plan plan, int checkId, CancellationToken cancel)
    {
        if (_intakes.TryGetValue(checkId, out Intake? intake))
        {
            return intake;
        }

        if (checkId == 0 || roots.Resolve(shot.Root, shot.Folder).Path is not { } folder)
        {
            return null;
        }

        intake = await Task.Run(() => new IntakeRun(facts, limits).Run(folder, plan, _rows.TryGetValue(checkId, out CheckRow? check) && check.Pixels ? FactsDepth.Pixels : FactsDepth.Header, null, cancel), cancel);
        Keep(checkId, intake);
        return intake;
    }

    /// <summary>Everything about a shot, or null when there is none of that name.</summary>
    public async Task<ShotView?> ViewAsync(string show, string shot, Selection wanted)
    {
        ShotRow? row = await store.ShotAsync(show, shot);
        if (row is null)
        {
            return null;
        }

        Plan plan = PlanOf(row);
        CheckRow? newest = await store.NewestCheckAsync(row.Id);
        (int reportId, CheckReport? report, CheckRow? reported) = await ReportAsync(row.Id);
        List<WaiverRow> waivers = await store.WaiversAsync(row.Id);
        List<FindingNote> notes = await store.NotesAsync(row.Id);
        return new ShotView
        {
            Row = row,
            Plan = plan,
            Newest = newest,
            Reported = reported,
            ReportId = reportId,
            Report = report is null ? null : Shown(row.Id, report, waivers, notes),
            Waivers = waivers,
            Crates = await store.CratesAsync(row.Id),
            Folder = roots.Resolve(row.Root, row.Folder).Path,
            Wanted = wanted,
        };
    }

    /// <summary>Plan and facts behind the newest report, matched as rules see them; null when the folder is gone.</summary>
    public async Task<CheckContext?> ContextAsync(ShotView view, CancellationToken cancel)
    {
        if (await IntakeAsync(view.Row, view.Plan, view.ReportId, cancel) is not { } intake)
        {
            return null;
        }

        if (!_contexts.TryGetValue(intake, out var known) || !ReferenceEquals(known.Plan, view.Plan))
        {
            _contexts.AddOrUpdate(intake, known = new CheckContext(view.Plan, intake, DateTime.UtcNow));
        }

        return known;
    }

    /// <summary>The report with waivers and notes laid over it, worked out once for as long as they stay the same.</summary>
    private CheckReport Shown(int shotId, CheckReport report, List<WaiverRow> waivers, List<FindingNote> notes)
    {
        if (waivers.Count == 0 && notes.Count == 0)
        {
            return report;
        }

        string over = $"{string.Join(' ', waivers.Select(w => w.Id))}|{string.Join(' ', notes.Select(n => n.At.Ticks))}";
        if (!_shown.TryGetValue(shotId, out var known) || !ReferenceEquals(known.Bare, report) || known.Over != over)
        {
            known = _shown[shotId] = (report, over, report.With([.. waivers.Select(ShowStore.ToWaiver)]).With(notes));
        }

        return known.Report;
    }

    /// <summary>Every shot of a show, by code.</summary>
    public async Task<List<ShotView>> ViewsAsync(ShowRow show)
    {
        var views = new List<ShotView>();
        foreach (ShotRow shot in show.Shots)
        {
            if (await ViewAsync(show.Code, shot.Code, Selection.None) is { } view)
            {
                views.Add(view);
            }
        }

        return views;
    }

    private async Task<(int, CheckReport?, CheckRow?)> ReportAsync(int shotId)
    {
        int id = await store.NewestReportIdAsync(shotId);
        if (id == 0)
        {
            return (0, null, null);
        }

        if (_reports.TryGetValue(shotId, out var known) && known.CheckId == id && _rows.TryGetValue(id, out CheckRow? row))
        {
            return (id, known.Report, row);
        }

        CheckRow check = (await store.NewestReportAsync(shotId))!;
        CheckReport report = JsonSerializer.Deserialize<CheckReport>(PackedText.Unpack(check.Report!), DocumentJson.Options)!;
        check.Report = null;
        _reports[shotId] = (id, report);
        _rows[id] = check;
        return (id, report, check);
    }

    private readonly ConcurrentDictionary<int, CheckRow> _rows = new();
}
