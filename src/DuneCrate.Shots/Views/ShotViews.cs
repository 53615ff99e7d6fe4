using System.Runtime.CompilerServices;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Reports;
using DuneCrate.Crates;
using DuneCrate.Crates.Recipes;
using DuneCrate.Foundation.Storage;
using DuneCrate.Planning.Model;
using DuneCrate.Shots.Checking;
using DuneCrate.Shots.Crating;
using DuneCrate.Shots.Jobs;
using DuneCrate.Shots.Roots;
using DuneCrate.Store;
using DuneCrate.Store.Rows;

namespace DuneCrate.Shots.Views;

/// <summary>
/// Lays out what pages show of a shot: plan, newest report with waivers, lanes, crates. Parsed documents are kept within a bound and worked
/// out once however many ask, so that a page costs
/// a few small queries. No disk is asked.
/// </summary>
public sealed class ShotViews(
    ShowStore store,
    CheckStore checkStore,
    FindingStore findingStore,
    ReceiverStore receiverStore,
    CrateStore crateStore,
    ShowGrounds grounds,
    ReportIntakes intakes,
    RunningChecks checks,
    RunningCrates crates
) : IDisposable
{
    private const long MostPlanLetters = 64L << 20,
        MostReportLetters = 48L << 20,
        MostShots = 5_000,
        MostPictured = 16,
        MostSummaries = 200,
        MostShownFindings = 50_000;

    private readonly SharedCache<(int Shot, string Json, string? ShowJson), KeptPlan> _plans = new(
        MostPlanLetters,
        (k, _) => k.Json.Length
    );
    private readonly SharedCache<(string Code, string Name, string? Json), ShowPlan> _shows = new(MostShots, (_, _) => 1);
    private readonly SharedCache<int, KeptReport> _reports = new(MostReportLetters, (_, r) => r.Letters);
    private readonly SharedCache<(int Shot, int Report, string Over), CheckReport> _shown = new(
        MostShownFindings,
        (_, r) => r.Findings.Length + 1
    );
    private readonly SharedCache<int, Tuple<YardRow, YardShot>> _yard = new(MostShots, (_, _) => 1);
    private readonly SharedCache<(int Id, string Code, string Name), Tuple<YardRow[], ShowReport>> _summaries = new(
        MostSummaries,
        (_, _) => 1
    );
    private readonly SharedCache<ShotStamp, ShotView> _pictured = new(MostPictured, (_, _) => 1);
    private readonly ConditionalWeakTable<IntakeResult, CrateContents> _contents = [];
    private readonly ConditionalWeakTable<IntakeResult, Plan> _guesses = [];

    /// <summary>What a show settles for its shots; what cannot be read of it is left out.</summary>
    public ShowPlan ShowOf(ShowRow show)
    {
        var key = (show.Code, show.Name, show.SettingsJson);
        if (!_shows.TryGet(key, out ShowPlan? known))
        {
            _shows.Keep(key, known = ShowPlan.ReadKept(show.SettingsJson, show.Code, show.Name));
        }

        return known;
    }

    /// <summary>What can be used of the plan of a shot, with what its show settles.</summary>
    public Plan PlanOf(ShotRow shot) => KeptPlanOf(shot).Usable;

    /// <summary>The plan of a shot as it was kept, with what its show settles.</summary>
    public KeptPlan KeptPlanOf(ShotRow shot)
    {
        var key = (shot.Id, shot.PlanJson, shot.Show.SettingsJson);
        if (!_plans.TryGet(key, out KeptPlan? known))
        {
            _plans.Keep(key, known = PlanDocument.ReadKept(shot.PlanJson, ShowOf(shot.Show), shot.Code));
        }

        return known;
    }

    /// <summary>
    /// The intake behind a report, when it is at hand; else it is begun to be taken again from what is remembered of the files, and null
    /// says that it is not there yet.
    /// </summary>
    public IntakeResult? IntakeOf(ShotView view) => intakes.Find(view.Reported, view.Folder, view.Plan);

    /// <summary>The intake behind a report, waited for. Not for pages.</summary>
    /// <exception cref="IOException">The folder is gone.</exception>
    public Task<IntakeResult> IntakeAsync(CheckRow check, StoragePath folder, Plan plan, CancellationToken cancel) =>
        intakes.GetAsync(check, folder, plan, cancel);

    /// <summary>What the files behind a report look like they were planned as, worked out once.</summary>
    private Plan? GuessOf(ShotRow row, Plan plan, CheckRow? check, StoragePath? folder)
    {
        if (intakes.Find(check, folder, plan) is not { } intake)
        {
            return null;
        }

        if (!_guesses.TryGetValue(intake, out Plan? guess) && PlanGuess.From(intake, plan.Show, row.Code) is { } made)
        {
            _guesses.AddOrUpdate(intake, guess = made);
        }

        return guess;
    }

    /// <summary>Everything about a shot, or null when there is none of that name.</summary>
    public async Task<ShotView?> ViewAsync(string show, string shot, Selection wanted, CancellationToken cancel) =>
        await store.ShotAsync(show, shot, cancel) is { } row ? await ViewAsync(row, wanted, cancel) : null;

    /// <summary>
    /// The same for pictures, which come by the dozen: plan, folder and crates are those of now; waivers and notes may be older.
    /// </summary>
    public async Task<ShotView?> PictureViewAsync(string show, string shot, CancellationToken cancel)
    {
        if (await store.StampAsync(show, shot, cancel) is not { } stamp)
        {
            return null;
        }

        if (_pictured.TryGet(stamp, out ShotView? known) && (known.IsPlanned || known.Guess is not null))
        {
            return known;
        }

        ShotView? view = await ViewAsync(show, shot, Selection.None, cancel);
        if (view is not null)
        {
            _pictured.Keep(stamp, view);
        }

        return view;
    }

    private async Task<ShotView> ViewAsync(ShotRow row, Selection wanted, CancellationToken cancel)
    {
        KeptPlan plan = KeptPlanOf(row);
        CheckRow? newest = await checkStore.NewestCheckAsync(row.Id, cancel);
        if (newest?.State is JobState.Queued or JobState.Running && !checks.Now.ContainsKey(newest.Id))
        {
            // Its end could not be noted: nothing runs, and it can be asked for again.
            newest.State = JobState.Stopped;
        }

        KeptReport? report = await ReportAsync(row.Id, cancel);
        List<WaiverRow> waivers = await findingStore.WaiversAsync(row.Id, cancel);
        List<FindingNote> notes = await findingStore.NotesAsync(row.Id, cancel);
        List<CrateRemarkRow> remarks = await receiverStore.OpenRemarksAsync(row.Id, cancel);
        List<CrateRow> made = await crateStore.CratesAsync(row.Id, cancel);
        foreach (CrateRow crate in made.Where(c => c.State is JobState.Queued or JobState.Running && !crates.Now.ContainsKey(c.Id)))
        {
            (crate.State, crate.Problem) = (JobState.Stopped, "How it ended could not be noted yet.");
        }

        ShowGround ground = await grounds.OfAsync(row.Show, cancel);
        StoragePath? folder = row.Root is null ? null : ground.Place(row.Root, row.Folder).Path;
        return new ShotView
        {
            Row = row,
            Plan = plan.Usable,
            Guess = plan.Usable.Layers.IsEmpty ? GuessOf(row, plan.Usable, report?.Row, folder) : null,
            PlanProblems = plan.Problems,
            Newest = newest,
            Reported = report?.Row,
            Report = report is null ? null : Shown(row.Id, plan.Usable, report, waivers, notes, remarks),
            Waivers = waivers,
            Crates = made,
            Folder = folder,
            Ground = ground,
            Wanted = wanted,
            Receivers = await ReceiversAsync(row.Show.Code, cancel),
        };
    }

    /// <summary>The folders that a show may be worked on in.</summary>
    public ValueTask<ShowGround> GroundOfAsync(ShowRow show, CancellationToken cancel) => grounds.OfAsync(show, cancel);

    /// <summary>What those who get crates of a show want.</summary>
    public async Task<IReadOnlyList<CrateRecipe>> ReceiversAsync(string show, CancellationToken cancel = default) =>
        [.. (await receiverStore.ReceiversAsync(show, cancel)).Select(r => r.Wants())];

    /// <summary>Plan and facts behind the newest report, matched as rules see them; null while they are not at hand.</summary>
    public CheckContext? ContextOf(ShotView view) => IntakeOf(view) is { } intake ? intakes.ContextOf(intake, view.Seen) : null;

    /// <summary>What a crate of the files behind the report would hold, or null while they are being read again.</summary>
    /// <param name="view">The shot.</param>
    /// <param name="layout">The layout.</param>
    /// <param name="recipe">What the receiver wants; null for files as they are.</param>
    /// <exception cref="CrateRefusedException">They want what cannot be.</exception>
    public CrateContents? ContentsOf(ShotView view, string layout, CrateRecipe? recipe = null)
    {
        string wanted = (recipe ?? CrateRecipe.AsItIs).Write();
        if (IntakeOf(view) is not { } intake)
        {
            return null;
        }

        if (
            !_contents.TryGetValue(intake, out var known)
            || !ReferenceEquals(known.Plan, view.Plan)
            || known.Layout != layout
            || known.Recipe.Write() != wanted
        )
        {
            // What the files look like as a plan is for pages to show; nothing is sealed by it.
            CheckContext found = view.IsPlanned ? intakes.ContextOf(intake, view.Plan) : new CheckContext(view.Plan, intake);
            _contents.AddOrUpdate(intake, known = CrateContents.From(found, layout, recipe));
        }

        return known;
    }

    /// <summary>The report with waivers and notes laid over it, worked out once for as long as they stay the same.</summary>
    private CheckReport Shown(
        int shotId,
        Plan plan,
        KeptReport report,
        List<WaiverRow> waivers,
        List<FindingNote> notes,
        List<CrateRemarkRow> remarks
    )
    {
        if (waivers.Count == 0 && notes.Count == 0 && remarks.Count == 0)
        {
            return report.Report;
        }

        var key = (
            shotId,
            report.Row.Id,
            $"{string.Join(' ', waivers.Select(w => w.Id))}|{string.Join(' ', notes.Select(n => n.At.Ticks))}"
                + $"|{string.Join(' ', remarks.Select(r => r.Id))}"
        );
        if (!_shown.TryGet(key, out CheckReport? known))
        {
            _shown.Keep(
                key,
                known = report
                    .Report.With([.. remarks.Select(r => SentBackRemarks.Of(r, plan))])
                    .With([.. waivers.Select(FindingStore.ToWaiver)])
                    .With(notes)
            );
        }

        return known;
    }

    /// <summary>Where all shots of a show stand: worked out anew when any of them has changed since the last time.</summary>
    public async Task<ShowReport> SummaryAsync(ShowRow show, CancellationToken cancel)
    {
        YardRow[] rows = [.. (await store.YardAsync(cancel)).Where(r => r.ShowId == show.Id)];
        var key = (show.Id, show.Code, show.Name);
        if (!_summaries.TryGet(key, out Tuple<YardRow[], ShowReport>? known) || !known.Item1.SequenceEqual(rows))
        {
            var states = (await ViewsAsync(show, cancel)).Select(v => new ShotState(
                v.Row.Code,
                v.Lanes,
                v.Report,
                v.Reported?.Ended,
                v.IsStale,
                v.Crates.FirstOrDefault(c => c.State == JobState.Done)?.Name
            ));
            _summaries.Keep(key, known = Tuple.Create(rows, ShowReport.From(show.Code, show.Name, states)));
        }

        return known.Item2;
    }

    /// <summary>Every shot of a show that is worked on, by code.</summary>
    public async Task<List<ShotView>> ViewsAsync(ShowRow show, CancellationToken cancel)
    {
        var views = new List<ShotView>();
        foreach (ShotRow shot in show.Shots.Where(s => s.ArchivedAt is null))
        {
            if (await ViewAsync(show.Code, shot.Code, Selection.None, cancel) is { } view)
            {
                views.Add(view);
            }
        }

        return views;
    }

    /// <summary>
    /// Every shot that is worked on in a few words, by key of the show: one query, and more for those alone that changed
    /// since the last time.
    /// </summary>
    public async Task<ILookup<int, YardShot>> YardAsync(CancellationToken cancel)
    {
        var shots = new List<YardShot>();
        foreach (YardRow row in await store.YardAsync(cancel))
        {
            YardRow now = row with { IsChecking = checks.Now.ContainsKey(row.NewestCheck) };
            if (!_yard.TryGet(row.ShotId, out Tuple<YardRow, YardShot>? known) || known.Item1 != now)
            {
                if (await ViewAsync(row.Show, row.Shot, Selection.None, cancel) is not { } view)
                {
                    continue;
                }

                _yard.Keep(row.ShotId, known = Tuple.Create(now, YardShot.From(view)));
            }

            shots.Add(known.Item2);
        }

        return shots.ToLookup(s => s.ShowId);
    }

    private async Task<KeptReport?> ReportAsync(int shotId, CancellationToken cancel)
    {
        int id = await checkStore.NewestReportIdAsync(shotId, cancel);
        return id == 0
            ? null
            : await _reports.GetAsync(
                id,
                async stop =>
                {
                    CheckRow check = (await checkStore.NewestReportAsync(shotId, stop))!;
                    string text = PackedText.Unpack(check.Report!);
                    check.Report = null;
                    return new KeptReport(check, CheckReport.Read(text), text.Length);
                },
                cancel
            );
    }

    /// <inheritdoc/>
    public void Dispose() => Array.ForEach<IDisposable>([_plans, _shows, _reports, _shown, _yard, _summaries, _pictured], c => c.Dispose());
}
