using DuneCrate.Engine;
using DuneCrate.Engine.Messages;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace DuneCrate.Web.Stations.Machines;

/// <summary>The machines that read files for this server, what waits for them, and what was set aside.</summary>
public sealed class MachinesModel(IMachines machines) : PageModel
{
    private static readonly TimeSpan Quiet = TimeSpan.FromSeconds(10);

    /// <summary>What there is to see; null without an engine.</summary>
    public MachinesView? View { get; private set; }

    /// <summary>Shows the page.</summary>
    public async Task OnGetAsync(CancellationToken cancel) => View = await machines.ViewAsync(cancel);

    /// <summary>The part of it that changes.</summary>
    public async Task<IActionResult> OnGetNowAsync(CancellationToken cancel)
    {
        await OnGetAsync(cancel);
        return View is null ? NotFound() : Partial("_Machines", this);
    }

    /// <summary>What was set aside is tried again by the next check of its shot.</summary>
    public IActionResult OnPostAgain()
    {
        machines.TryAgain();
        return RedirectToPage();
    }

    /// <summary>How a machine is: "reading", "waiting", "leaving", "not heard of for 20 s".</summary>
    public static string StateOf((WorkerNews News, TimeSpan Silent) worker) =>
        worker.News.IsLeaving ? "leaving"
        : worker.Silent > Quiet ? FormattableString.Invariant($"not heard of for {worker.Silent.TotalSeconds:0} s")
        : worker.News.Reading.IsEmpty ? "waiting for work"
        : "reading";

    /// <summary>What waits in a queue, in words.</summary>
    public static string NameOf(WorkKind kind) =>
        kind switch
        {
            WorkKind.First => "first frames",
            WorkKind.Single => "single files and sums",
            _ => "pieces of whole folders",
        };
}
