using DuneCrate.Core.Checks;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Intake;
using DuneCrate.Core.Planning;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Roots;
using DuneCrate.Web.Shots;
using DuneCrate.Web.Work;
using Microsoft.AspNetCore.Mvc;

namespace DuneCrate.Web.Pages.Shot;

/// <summary>How much of an output is here.</summary>
public sealed record ArrivalLine(string Layer, string Label, string Mark, long Here, long Planned, FrameSet Missing, long Bytes, DateTime? Last);

/// <summary>The Receive station: where the frames are, taking them in, what has come.</summary>
public sealed class ReceiveModel(ShotDesk desk, ShowStore store, PlanStore plans, StorageRoots roots, CheckWork work) : ShotPage(desk)
{
    private readonly ShotDesk _desk = desk;

    /// <inheritdoc/>
    public override string Station => "Receive";

    /// <summary>Names of the storage roots.</summary>
    public IReadOnlyCollection<string> Roots => roots.Names;

    /// <summary>The root in the form.</summary>
    public string? Root { get; private set; }

    /// <summary>The folder in the form.</summary>
    public string Folder { get; private set; } = "";

    /// <summary>Folders that may be meant.</summary>
    public IReadOnlyList<string> Children => Root is null ? [] : roots.Children(Root, "");

    /// <summary>What was refused and why, or null.</summary>
    public string? Said { get; private set; }

    /// <summary>Progress of the running check, or null.</summary>
    public WorkProgress? Live => View.Newest is { } check ? work.Live(check.Id) : null;

    /// <summary>Lines of the preflight list that nobody has confirmed.</summary>
    public IReadOnlyList<string> Unconfirmed { get; private set; } = [];

    /// <summary>What has come, by output.</summary>
    public List<ArrivalLine> Arrivals { get; private set; } = [];

    /// <summary>Shows the station.</summary>
    public Task OnGetAsync(CancellationToken cancel) => FillAsync(View.Row.Root ?? Roots.FirstOrDefault(), View.Row.Root is null ? View.Row.Code : View.Row.Folder, cancel);

    /// <summary>The progress alone, for the page to put in; when the work is over the page is asked to load anew.</summary>
    public IActionResult OnGetWork()
    {
        if (!View.IsChecking)
        {
            Response.Headers["HX-Refresh"] = "true";
        }

        return Partial("_ReceiveWork", this);
    }

    /// <summary>Says where the frames are and checks them.</summary>
    public async Task<IActionResult> OnPostTakeAsync(string? root, string? folder, bool pixels, bool byContent, CancellationToken cancel)
    {
        (string? path, Said) = roots.Resolve(root, folder);
        if (path is null)
        {
            await FillAsync(root, folder ?? "", cancel);
            return Page();
        }

        await store.SetFolderAsync(View.Row.Id, root!, (folder ?? "").Trim().Trim('/'));
        await work.AskAsync(View.Row.Id, pixels, byContent);
        return ToStation("receive");
    }

    /// <summary>Checks again, or goes on with a stopped check.</summary>
    public async Task<IActionResult> OnPostCheckAsync(bool pixels)
    {
        if (!View.IsChecking)
        {
            await work.AskAsync(View.Row.Id, pixels);
        }

        return ToStation("receive");
    }

    /// <summary>Stops the running check.</summary>
    public IActionResult OnPostStop()
    {
        if (View.Newest is { } check)
        {
            work.Stop(check.Id);
        }

        return ToStation("receive");
    }

    private async Task FillAsync(string? root, string folder, CancellationToken cancel)
    {
        (Root, Folder) = (root, folder);
        var confirmed = (await plans.TicksAsync(View.Row.Id)).Select(t => t.Item).ToHashSet();
        Unconfirmed = [.. Preflight.Of(View.Plan.Show).Where(i => !confirmed.Contains(i))];
        Intake? intake = await _desk.IntakeAsync(View.Row, View.Plan, View.ReportId, cancel);
        foreach (FrameLane lane in View.Lanes)
        {
            PlannedOutput output = View.Outputs.First(o => o.Key == lane.Output);
            FrameSet missing = lane.Runs.Where(r => r.State is FrameState.Missing or FrameState.Pending).Aggregate(FrameSet.Empty, (all, r) => all.Union(r.Frames));
            FileFacts[] files = intake is null ? [] : [.. output.Frames.Select(f => intake.Facts.GetValueOrDefault(output.Name.At(f))).OfType<FileFacts>()];
            long here = output.Frames.Except(missing).LongCount;
            Arrivals.Add(new ArrivalLine(lane.Layer, lane.Label, here == output.Frames.LongCount ? "good" : here == 0 ? "pending" : "missing", here, output.Frames.LongCount,
                View.Report is null ? FrameSet.Empty : missing, files.Sum(f => f.Bytes), files.Length == 0 ? null : files.Max(f => f.Modified)));
        }
    }
}
