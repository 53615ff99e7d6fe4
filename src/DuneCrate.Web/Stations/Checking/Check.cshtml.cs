using System.Collections.Immutable;
using System.Text;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Remedies;
using DuneCrate.Checking.Reports;
using DuneCrate.Checking.Rules;
using DuneCrate.Foundation.History;
using DuneCrate.Planning.Edits;
using DuneCrate.Shots.Checking;
using DuneCrate.Shots.Planning;
using DuneCrate.Shots.Receiving;
using DuneCrate.Shots.Views;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Access;
using DuneCrate.Web.Stations.Shared;
using Microsoft.AspNetCore.Mvc;

namespace DuneCrate.Web.Stations.Checking;

/// <summary>The Check station: frame map, channel grid, findings, waivers.</summary>
public sealed partial class CheckModel(
    ShotViews views,
    ShowStore store,
    CheckStore checkStore,
    FindingStore findingStore,
    StandInFarm farm,
    FileRenamer renaming,
    PlanEditor plans,
    CheckQueue work,
    ArrivalWatch watch,
    TimeProvider clock
) : ShotPage(views)
{
    private readonly ShotViews _views = views;

    /// <inheritdoc/>
    public override string Station => "Check";

    /// <summary>The channels of the selected output.</summary>
    public IReadOnlyList<ChannelComparison> Channels { get; private set; } = [];

    /// <summary>Whether there is a farm to send frames to.</summary>
    public bool HasFarm => farm.IsThere && View.Folder is not null;

    /// <summary>Names that can be put right.</summary>
    public IReadOnlyList<Rename> ToRename { get; private set; } = [];

    /// <summary>Files that were renamed and can have their old names again, or null.</summary>
    public RenameStep? Renamed => renaming.Last(View.Row.Id);

    /// <summary>Mean, maximum, size and non-finite samples of the selected pass along the frames.</summary>
    public IReadOnlyList<TrendStrip> Strips { get; private set; } = [];

    /// <summary>Finished checks, newest first.</summary>
    public IReadOnlyList<CheckRow> Runs { get; private set; } = [];

    /// <summary>The earlier check that the newest is compared with, or null.</summary>
    public CheckRow? Before { get; private set; }

    /// <summary>What is new, still there and fixed since that one.</summary>
    public IReadOnlyList<ComparedFinding> Compared { get; private set; } = [];

    /// <summary>What went wrong, or null.</summary>
    public string? Said { get; private set; }

    /// <summary>Shows the station.</summary>
    public async Task OnGetAsync(int? since, CancellationToken cancel)
    {
        Runs = await checkStore.FinishedChecksAsync(View.Row.Id, cancel: cancel);
        Before = Runs.FirstOrDefault(r => r.Id == since && r.Id != View.ReportId) ?? Runs.FirstOrDefault(r => r.Id < View.ReportId);
        if (Before is not null && View.Report is { } now && await checkStore.ReportAsync(Before.Id, cancel) is { } then)
        {
            Compared = RunComparison.Compute(then, now);
        }

        FillDetails();
    }

    /// <summary>What stands below the map, for the page to put in once it is at hand.</summary>
    public IActionResult OnGetDetails()
    {
        FillDetails();
        return Partial("_CheckDetails", this);
    }

    /// <summary>Whether what the check found of the files is still being read again, after a start of the application.</summary>
    public bool IsReading { get; private set; }

    private void FillDetails()
    {
        if (View.Output is not { } output || _views.ContextOf(View) is not { } context)
        {
            IsReading = View.Output is not null && View.Report is not null && View.Folder is not null;
            return;
        }

        IntakeResult intake = context.Intake;
        ToRename = Renames.From(context);
        Strips = TrendStrip.From(output, View.Selected.Pass, View.Range, intake);
        FileFacts[] files =
        [
            .. output.Frames.Select(f => intake.Facts.GetValueOrDefault(output.Name.At(f))).OfType<FileFacts>().Where(f => f.Readable),
        ];
        Channels = files.Length == 0 ? [] : ChannelComparison.Compute(output, files);
    }

    /// <summary>The next portion of the findings.</summary>
    public IActionResult OnGetFindings(int from) => Partial("_FindingItems", new FindingItems(View, from));

    /// <summary>What can be done about one finding.</summary>
    public async Task<IActionResult> OnGetFindingAsync(int report, int number, CancellationToken cancel) =>
        report == View.ReportId && View.Report?.Findings.ElementAtOrDefault(number) is { } finding
            ? Partial(
                "_FindingActs",
                new FindingActs(View, finding, Evidence.For(View, finding), (await ReplanAsync(finding, cancel))?.What)
            )
            : Content("This finding is not in the newest report any more. Reload the page.", "text/plain");

    /// <summary>The findings by output, for the frame map to say why a cell is as it is.</summary>
    public IActionResult OnGetReasons() =>
        new JsonResult(
            (View.Report?.Findings ?? [])
                .Where(f => f.Waived is null && !f.Frames.IsEmpty)
                .Select(f => new
                {
                    o = f.Output,
                    m = f.Message,
                    f = f.Frames.ToString(),
                })
        );

    /// <summary>Accepts what came into the plan, and checks again.</summary>
    public async Task<IActionResult> OnPostReplanAsync(string key, int revision, CancellationToken cancel)
    {
        if (Find(key) is not { } finding || revision != View.Row.Revision || await ReplanAsync(finding, cancel) is not { } replan)
        {
            return await SayAsync(
                "That finding is not in the newest report any more, or the plan has changed meanwhile; nothing was changed. Look at "
                    + "it anew.",
                cancel
            );
        }

        EditOutcome outcome = await plans.EditAsync(
            View.Row.Id,
            revision,
            new ReplacePlan(replan.After, replan.What) { IsOwn = true },
            EditorCookies.Read(HttpContext)
        );
        if (!outcome.IsDone)
        {
            return await SayAsync(
                outcome.Problem
                    ?? $"Somebody else changed {string.Join(", ", outcome.Conflicts.Take(4))} meanwhile; nothing was changed. Look "
                        + "at it anew.",
                cancel
            );
        }

        await work.AskAsync(View.Row.Id, View.HasPixels);
        return ToStation("check");
    }

    /// <summary>Outputs with files that came or changed after the check, as far as the folder is being watched.</summary>
    public ImmutableArray<string> ChangedSince =>
        View is { Reported.Asked: var asked, IsChecking: false } && watch.ViewOf(View.Row, View.Folder) is { } arrival
            ? [.. arrival.Layers.SelectMany(l => l.Outputs).Where(o => o.Last > asked).Select(o => o.Output.Key)]
            : [];

    private Finding? Find(string key) => View.Report?.Findings.FirstOrDefault(f => f.Key == key);

    /// <summary>
    /// The change of the plan that would settle a finding; null when there is none. Waits for what the check found, which is no part of a
    /// page.
    /// </summary>
    private async Task<Replan?> ReplanAsync(Finding finding, CancellationToken cancel)
    {
        if (!RuleBook.CanReplan(finding) || View.Reported is not { } check || View.Folder is not { } folder)
        {
            return null;
        }

        try
        {
            await _views.IntakeAsync(check, folder, View.Plan, cancel);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return null;
        }

        return _views.ContextOf(View) is { } context ? RuleBook.Replan(finding, context) : null;
    }

    /// <summary>Shows the station with what went wrong.</summary>
    private async Task<IActionResult> SayAsync(string problem, CancellationToken cancel)
    {
        Said = problem;
        await OnGetAsync(null, cancel);
        return Page();
    }

    /// <summary>Gives files their right names.</summary>
    public async Task<IActionResult> OnPostRenameAsync(CancellationToken cancel)
    {
        Said = View.Folder is { } folder
            ? await renaming.ApplyAsync(View.Row, View.Plan, folder, cancel)
            : "No folder was named yet; say on the Receive station where the frames are.";
        if (Said is not null)
        {
            return await SayAsync(Said, cancel);
        }

        await this.AuditAsync(HistoryKinds.Renamed, $"files of {View.Row.Code}", null, "given their right names");
        return ToStation("check");
    }

    /// <summary>Gives them their old names again.</summary>
    public async Task<IActionResult> OnPostUnrenameAsync(CancellationToken cancel)
    {
        Said = await renaming.BackAsync(View.Row);
        if (Said is not null)
        {
            return await SayAsync(Said, cancel);
        }

        await this.AuditAsync(HistoryKinds.Renamed, $"files of {View.Row.Code}", "their right names", "given their old names back");
        return ToStation("check");
    }

    /// <summary>The report as a document.</summary>
    public IActionResult OnGetReport() =>
        View.Report is { } report ? Download(report.Write(), "application/json", "report.json") : NotFound();

    /// <summary>The findings as CSV.</summary>
    public IActionResult OnGetCsv() =>
        View.Report is { } report ? Download(ReportCsv.Findings(report), "text/csv", "findings.csv") : NotFound();

    /// <summary>The rerun list as CSV, JSON or plain text, in portions of at most so many frames.</summary>
    public IActionResult OnGetRerun(string? form, int chunk = 0)
    {
        if (View.Report is not { } report)
        {
            return NotFound();
        }

        var list = RerunList.From(report, Math.Clamp(chunk, 0, 100_000), View.Row.Code);
        return form switch
        {
            "json" => Download(list.Write(), "application/json", "rerun.json"),
            "text" => Download(list.WriteText(), "text/plain", "rerun.txt"),
            _ => Download(ReportCsv.Rerun(list), "text/csv", "rerun.csv"),
        };
    }

    /// <summary>The report as one self-contained page.</summary>
    public IActionResult OnGetPage() =>
        View.Report is { } report
            ? Download(ReportPage.Write(report, $"{View.Row.Show.Name}, {View.Row.Code}", View.Reported?.Ended), "text/html", "report.html")
            : NotFound();

    private FileContentResult Download(string text, string type, string name) =>
        File(Encoding.UTF8.GetBytes(text), type, $"{View.Row.Code}_{name}");
}
