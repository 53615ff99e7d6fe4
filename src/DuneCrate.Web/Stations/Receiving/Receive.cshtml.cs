using System.Collections.Immutable;
using DuneCrate.Checking;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Reports;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.History;
using DuneCrate.Foundation.Storage;
using DuneCrate.Planning.Edits;
using DuneCrate.Shots.Checking;
using DuneCrate.Shots.Jobs;
using DuneCrate.Shots.Planning;
using DuneCrate.Shots.Receiving;
using DuneCrate.Shots.Views;
using DuneCrate.StandIns.Farm;
using DuneCrate.StandIns.Renderer;
using DuneCrate.Store;
using DuneCrate.Web.Access;
using DuneCrate.Web.Stations.Shared;
using Microsoft.AspNetCore.Mvc;

namespace DuneCrate.Web.Stations.Receiving;

/// <summary>The Receive station: where the frames are, taking them in, what has come.</summary>
public sealed class ReceiveModel(
    ShotViews views,
    ShowStore store,
    PlanStore plans,
    CheckQueue work,
    PlanEditor planning,
    CheckRequests requests,
    ArrivalWatch watch,
    StandInFarm farm
) : ShotPage(views)
{
    /// <inheritdoc/>
    public override string Station => "Receive";

    /// <summary>Names of the storage roots.</summary>
    public IReadOnlyCollection<string> Roots => View.Ground.Names(Visitor.IsKeeper);

    /// <summary>The root in the form.</summary>
    public string? Root { get; private set; }

    /// <summary>The folder in the form.</summary>
    public string Folder { get; private set; } = "";

    /// <summary>Folders that may be meant.</summary>
    public IReadOnlyList<string> Children => Root is null ? [] : View.Ground.In(Root, Visitor.IsKeeper);

    /// <summary>Whether to ask if the whole root is meant.</summary>
    public bool AsksForWhole { get; private set; }

    /// <summary>The folder that is browsed, below its root.</summary>
    public string At { get; private set; } = "";

    /// <summary>The folders in it.</summary>
    public IReadOnlyList<string> Below { get; private set; } = [];

    /// <summary>The folders in a folder, to browse.</summary>
    /// <param name="root">Name of the root.</param>
    /// <param name="at">The folder below it.</param>
    public async Task<IActionResult> OnGetFoldersAsync(string? root, string? at)
    {
        (Root, At) = (root, (at ?? "").Trim('/'));
        (Below, Said) = await Task.Run(() => View.Ground.Browse(root, At, Visitor.IsKeeper));
        At = Said is null ? At : "";
        return Partial("_Folders", this);
    }

    /// <summary>What was refused and why, or null.</summary>
    public string? Said { get; private set; }

    /// <summary>Progress of the running check, or null.</summary>
    public JobProgress? Live => View.Newest is { } check ? work.Live.GetValueOrDefault(check.Id) : null;

    /// <summary>Lines of the preflight list that nobody has confirmed.</summary>
    public IReadOnlyList<string> Unconfirmed { get; private set; } = [];

    /// <summary>What has come, or null without a folder.</summary>
    public ArrivalView? Arrival { get; private set; }

    /// <summary>The stand-in farm.</summary>
    public StandInFarm Farm => farm;

    /// <summary>The order in the farm's form.</summary>
    public FarmForm Order { get; private set; } = new("", 0.5, "");

    /// <summary>Shows the station.</summary>
    public Task OnGetAsync() => FillAsync(View.Row.Root ?? Roots.FirstOrDefault(), View.Row.Root is null ? View.Row.Code : View.Row.Folder);

    /// <summary>What has come alone, for the page to put in when it is told of something.</summary>
    public IActionResult OnGetArrivals()
    {
        Arrival = watch.ViewOf(View.Row, View.Folder);
        return Partial("_Arrivals", this);
    }

    /// <summary>The farm's jobs alone.</summary>
    public IActionResult OnGetFarm() => Partial("_Farm", this);

    /// <summary>Sends frames to the stand-in farm; without any, every one of the plan.</summary>
    public async Task<IActionResult> OnPostSendAsync(string? frames, double seconds, string? faults)
    {
        Order = new FarmForm(frames ?? "", seconds, faults ?? "");
        if (!farm.IsThere || View.Folder is not { } folder)
        {
            Said = "There is no farm here, or no folder for its frames.";
            return await StayAsync();
        }

        if (await GateAsync() is { } closed)
        {
            Said = closed;
            return await StayAsync();
        }

        FrameSet? wanted = null;
        if (!string.IsNullOrWhiteSpace(frames) && !FrameSet.TryParse(frames.Trim(), out wanted, out string? problem))
        {
            Said = problem;
            return await StayAsync();
        }

        var wrong = new List<Fault>();
        foreach (string text in (faults ?? "").Split([' ', '\n', '\r'], StringSplitOptions.RemoveEmptyEntries))
        {
            if (!Fault.TryParse(text, out Fault? fault, out string? reason))
            {
                Said = reason;
                return await StayAsync();
            }

            wrong.Add(fault);
        }

        ImmutableArray<RerunPortion> portions = FarmOrder.Whole(View.Plan, wanted);
        if (portions.IsEmpty)
        {
            Said = "No layer has such frames.";
            return await StayAsync();
        }

        try
        {
            farm.Send(View.Row, View.Plan, folder, portions, [.. wrong], double.IsFinite(seconds) ? Math.Clamp(seconds, 0, 60) : 0);
        }
        catch (ArgumentException e)
        {
            Said = e.Message;
            return await StayAsync();
        }

        return ToStation("receive");
    }

    /// <summary>Sends the rerun list of the newest report to the stand-in farm.</summary>
    public async Task<IActionResult> OnPostRerunAsync(int chunk)
    {
        if (await GateAsync() is { } closed)
        {
            Said = closed;
            return await StayAsync();
        }

        try
        {
            if (farm.IsThere && View is { Folder: { } folder, Report: { Rerun.IsEmpty: false } report })
            {
                farm.Send(
                    View.Row,
                    View.Plan,
                    folder,
                    RerunList.From(report, Math.Clamp(chunk, 0, 100_000), View.Row.Code).Portions,
                    [],
                    0
                );
            }

            return ToStation("receive");
        }
        catch (ArgumentException e)
        {
            Said = e.Message;
            return await StayAsync();
        }
    }

    /// <summary>Pauses, resumes, cancels a job of the farm or makes it fail.</summary>
    public IActionResult OnPostJob(int job, string what)
    {
        farm.Tell(View.Row.Id, job, what);
        return ToStation("receive");
    }

    /// <summary>The progress alone, for the page to put in; when the work is over the page is asked to load anew.</summary>
    public IActionResult OnGetProgress()
    {
        if (!View.IsChecking)
        {
            Response.Headers["HX-Trigger"] = "renew";
        }

        return Partial("_ReceiveProgress", this);
    }

    /// <summary>Says where the frames are and checks them.</summary>
    /// <param name="root">Name of the root.</param>
    /// <param name="folder">Folder below it.</param>
    /// <param name="pixels">Whether every pixel is read.</param>
    /// <param name="byContent">Whether files are told apart by content.</param>
    /// <param name="whole">Whether the root as a whole is meant where no folder is named.</param>
    public async Task<IActionResult> OnPostTakeAsync(string? root, string? folder, bool pixels, bool byContent, bool whole)
    {
        if (string.IsNullOrWhiteSpace(folder) && !whole && Roots.Contains(root))
        {
            (AsksForWhole, Said) = (true, $"No folder is named. Name the shot's folder, or tick that all of {root} is meant.");
            await FillAsync(root, "");
            return Page();
        }

        (StoragePath? path, Said) = await Task.Run(() => View.Ground.Resolve(root, folder, Visitor.IsKeeper));
        if (path is null)
        {
            await FillAsync(root, folder ?? "");
            return Page();
        }

        await store.SetFolderAsync(
            View.Row.Id,
            root!,
            path.Relative,
            this.Audited(
                HistoryKinds.Checked,
                $"folder of {View.Row.Code}",
                View.Row.Root is null ? null : $"{View.Row.Root}/{View.Row.Folder}",
                $"{root}/{path.Relative}, {(pixels ? "every pixel" : "headers")}"
            )
        );
        await work.AskAsync(View.Row.Id, pixels, byContent);
        return ToStation("receive");
    }

    /// <summary>Checks again, or goes on with a stopped check.</summary>
    public async Task<IActionResult> OnPostCheckAsync(bool pixels)
    {
        if (!View.IsChecking)
        {
            await this.AuditAsync(HistoryKinds.Checked, $"a check of {View.Row.Code}", null, pixels ? "every pixel" : "headers");
            await work.AskAsync(View.Row.Id, pixels);
        }

        return ToStation("receive");
    }

    /// <summary>Makes the plan from what lies in the folder; the step can be taken back like any other.</summary>
    public async Task<IActionResult> OnPostPlanAsync(CancellationToken cancel)
    {
        if (View.Folder is { } folder)
        {
            IntakeResult intake;
            try
            {
                intake = await Task.Run(() => FolderCheck.TakeIn(requests.Of(folder, null, FactsDepth.Header), cancel), cancel);
            }
            catch (Exception e) when (e is IOException or UnauthorizedAccessException)
            {
                Said = Failures.Words("The folder cannot be read", e);
                return await StayAsync();
            }

            if (PlanGuess.From(intake, View.Plan.Show, View.Row.Code) is { } guess)
            {
                EditOutcome outcome = await planning.EditAsync(
                    View.Row.Id,
                    View.Row.Revision,
                    new ReplacePlan(guess with { Scene = View.Plan.Scene }, "plan made from what is there") { IsOwn = true },
                    EditorCookies.Read(HttpContext)
                );
                Said = outcome.Problem;
                return Said is null ? ToStation("plan") : await StayAsync();
            }
        }

        Said = "No picture in the folder can be read; there is nothing to plan from.";
        return await StayAsync();
    }

    private async Task<IActionResult> StayAsync()
    {
        await FillAsync(View.Row.Root, View.Row.Folder ?? "");
        return Page();
    }

    /// <summary>Stops the running check.</summary>
    public async Task<IActionResult> OnPostStopAsync()
    {
        if (View.Newest is { } check)
        {
            work.Stop(check.Id);
            await this.AuditAsync(HistoryKinds.Checked, $"a check of {View.Row.Code}", "running", "stopped");
        }

        return ToStation("receive");
    }

    /// <summary>Why nothing may be sent to the farm yet, or null.</summary>
    private async Task<string?> GateAsync() =>
        View.Plan.Show.PreflightGate && await UnconfirmedAsync() is { Count: > 0 } open
            ? $"{Words.Count(open.Count, "line")} of the preflight list {Words.Are(open.Count)} not confirmed, and this show sends nothing "
                + "to the farm before. Open preflight and confirm them."
            : null;

    private Task<IReadOnlyList<string>> UnconfirmedAsync() => plans.UnconfirmedAsync(View.Row.Id, View.Plan.Show);

    private async Task FillAsync(string? root, string folder)
    {
        (Root, Folder) = (root, folder);
        Unconfirmed = await UnconfirmedAsync();
        Arrival = watch.ViewOf(View.Row, View.Folder);
    }
}
