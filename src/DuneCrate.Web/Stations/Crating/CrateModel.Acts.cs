using System.Collections.Immutable;
using DuneCrate.Crates;
using DuneCrate.Crates.Slimming;
using DuneCrate.Foundation.History;
using DuneCrate.StandIns.DropBox;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Access;
using Microsoft.AspNetCore.Mvc;

namespace DuneCrate.Web.Stations.Crating;

/// <content>Slimming, and what is done with crates that are being sealed or are sealed.</content>
public sealed partial class CrateModel
{
    /// <summary>What could go without loss; null while nobody asked.</summary>
    public ImmutableArray<CrateSaving>? Savings { get; private set; }

    /// <summary>What the address says beside one of its fields, for forms that change that one.</summary>
    public IEnumerable<(string Name, string Value)> FieldsBut(string field) =>
        Request.Query.Where(q => q.Key != field && q.Key != "handler").Select(q => (q.Key, q.Value.ToString()));

    /// <summary>The newest crate that stands in the place of one, or null.</summary>
    public CrateRow? NewerThan(CrateRow crate) => View.Crates.FirstOrDefault(c => crate.IsSupersededBy(c));

    /// <summary>Whether a delta that is kept rests on a crate.</summary>
    public bool IsNeeded(CrateRow crate) => View.Crates.Any(c => c.OntoId == crate.Id && c is { State: JobState.Done, Gone: null });

    /// <summary>What could go without loss, tried on three frames of each sequence.</summary>
    public async Task<IActionResult> OnGetSavingsAsync(CancellationToken cancel)
    {
        await FillAsync(cancel);
        if (Contents is null)
        {
            return Content("");
        }

        try
        {
            Savings = await slimming.FindAsync(Contents, cancel);
        }
        catch (Exception e) when (e is CrateRefusedException or IOException or UnauthorizedAccessException)
        {
            Said = e.Message;
        }

        return Partial("_Savings", this);
    }

    /// <summary>Stops a crate that waits or is being sealed; nothing is left of it.</summary>
    public async Task<IActionResult> OnPostStopAsync(int id)
    {
        if (await crateStore.CrateAsync(View.Row.Id, id) is { } crate)
        {
            if (crate.State == JobState.Paused)
            {
                await work.GiveUpAsync(crate, View.Row);
            }
            else
            {
                work.Stop(crate.Id);
            }
        }

        return Redirect($"{View.Href("crate")}{Chosen}");
    }

    /// <summary>Puts a sealing off; what was written so far is kept.</summary>
    public async Task<IActionResult> OnPostPauseAsync(int id)
    {
        if (await crateStore.CrateAsync(View.Row.Id, id) is { State: JobState.Queued or JobState.Running } crate)
        {
            work.Pause(crate.Id);
        }

        return Redirect($"{View.Href("crate")}{Chosen}");
    }

    /// <summary>Goes on with a sealing that was put off.</summary>
    public async Task<IActionResult> OnPostResumeAsync(int id)
    {
        if (await crateStore.CrateAsync(View.Row.Id, id) is { } crate)
        {
            await work.ResumeAsync(crate);
        }

        return Redirect($"{View.Href("crate")}{Chosen}");
    }

    /// <summary>Sends a crate to the stand-in of its receiver's drop box.</summary>
    public async Task<IActionResult> OnPostSendAsync(int id, DropBoxFault fault)
    {
        if (await crateStore.CrateAsync(View.Row.Id, id) is { State: JobState.Done, Gone: null } crate)
        {
            await this.AuditAsync(HistoryKinds.Handed, $"{crate.Name}", null, "asked for, to the drop box");
            await work.SendAsync(crate, fault, AuditLog.WhoOf(HttpContext));
        }

        return Redirect($"{View.Href("crate")}{Chosen}");
    }

    /// <summary>Deletes the files of a crate in whose place a newer one stands; that there was one stays known.</summary>
    public async Task<IActionResult> OnPostForgetAsync(int id, CancellationToken cancel)
    {
        if (
            await crateStore.CrateAsync(View.Row.Id, id, cancel) is { State: JobState.Done, Gone: null } crate
            && NewerThan(crate) is not null
            && !IsNeeded(crate)
        )
        {
            await work.ForgetAsync(crate, cancel);
            await this.AuditAsync(HistoryKinds.Sealed, $"{crate.Name}", "kept", "its files deleted");
        }

        return Redirect($"{View.Href("crate")}{Chosen}");
    }
}
