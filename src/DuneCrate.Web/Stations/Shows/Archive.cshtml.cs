using DuneCrate.Foundation.History;
using DuneCrate.Shots.Checking;
using DuneCrate.Shots.Crating;
using DuneCrate.Shots.Live;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Access;
using DuneCrate.Web.Stations.Shared;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;

namespace DuneCrate.Web.Stations.Shows;

/// <summary>Puts a shot or a whole show into the archive, takes it out again, or deletes what is known of it.</summary>
public sealed class ArchiveModel(
    ShowStore store,
    ArchiveStore archiveStore,
    CheckStore checkStore,
    CrateStore crateStore,
    RunningChecks checks,
    RunningCrates crates,
    ShotEvents events,
    Access.People people
) : AddressedPage
{
    /// <summary>Code of the shot; null for the whole show.</summary>
    public string? Shot => Addressed("shot");

    /// <summary>The show.</summary>
    public ShowRow Row { get; private set; } = null!;

    /// <summary>The shot, or null for the whole show.</summary>
    public ShotRow? ShotRow { get; private set; }

    /// <summary>What would be deleted.</summary>
    public ShotHoldings Holdings { get; private set; } = null!;

    /// <summary>Why nothing was done, or null.</summary>
    public string? Said { get; private set; }

    /// <summary>Code of what the page is about.</summary>
    public string Code => ShotRow?.Code ?? Row.Code;

    /// <summary>When it was put into the archive; null when it is worked on.</summary>
    public DateTime? ArchivedAt => ShotRow is null ? Row.ArchivedAt : ShotRow.ArchivedAt;

    private int[] ShotIds => ShotRow is { } one ? [one.Id] : [.. Row.Shots.Select(s => s.Id)];

    /// <inheritdoc/>
    public override async Task OnPageHandlerExecutionAsync(PageHandlerExecutingContext context, PageHandlerExecutionDelegate next)
    {
        CancellationToken cancel = HttpContext.RequestAborted;
        ShowRow? row = (await store.ShowNamesAsync(cancel)).FirstOrDefault(s => s.Code == Show);
        ShotRow = row?.Shots.FirstOrDefault(s => s.Code == Shot);
        if (row is null || (Shot is not null && ShotRow is null))
        {
            context.Result = NotFound();
            return;
        }

        Row = row;
        Holdings = await archiveStore.HoldingsOfAsync(ShotIds, cancel);
        await next();
    }

    /// <summary>Shows the page.</summary>
    public void OnGet() { }

    /// <summary>Puts it into the archive, or takes it out.</summary>
    public async Task<IActionResult> OnPostArchiveAsync(bool on)
    {
        (string before, string after) = on ? ("worked on", "in the archive") : ("in the archive", "worked on");
        AuditEvent audited = this.Audited(HistoryKinds.Shows, Code, before, after);
        await (
            ShotRow is { } shot ? archiveStore.ArchiveShotAsync(shot.Id, on, audited) : archiveStore.ArchiveShowAsync(Row.Id, on, audited)
        );
        return ToYard();
    }

    /// <summary>Deletes what is known of it, once its code is written.</summary>
    public async Task<IActionResult> OnPostDeleteAsync(string? code)
    {
        if (code?.Trim() != Code)
        {
            Said = $"Nothing was deleted. Write {Code} to delete it.";
        }
        else if (await IsBusyAsync())
        {
            Said = "Nothing was deleted: a check or a crate of it is at work. Stop it, or wait for its end.";
        }

        if (Said is not null)
        {
            return Page();
        }

        AuditEvent audited = this.Audited(HistoryKinds.Shows, Code, ShotRow is null ? "show" : "shot", "deleted");
        await (ShotRow is { } shot ? archiveStore.DeleteShotAsync(shot.Id, audited) : archiveStore.DeleteShowAsync(Row.Id, audited));
        people.Forget();
        return ToYard();
    }

    private async Task<bool> IsBusyAsync()
    {
        foreach (int id in ShotIds)
        {
            if (
                (await checkStore.NewestCheckAsync(id) is { } check && checks.Now.ContainsKey(check.Id))
                || (await crateStore.CratesAsync(id)).Any(c => crates.Now.ContainsKey(c.Id))
            )
            {
                return true;
            }
        }

        return false;
    }

    private RedirectResult ToYard()
    {
        events.TellYard();
        return Redirect("/");
    }
}
