using DuneCrate.Crates.Events;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.History;
using DuneCrate.Foundation.Time;
using DuneCrate.Shots.Notifications;
using DuneCrate.Store;
using DuneCrate.Store.Rows;

namespace DuneCrate.Shots.Crating;

/// <summary>Writes down what became of crates, in their rows, in the histories and beside them, and tells of it.</summary>
public sealed class CrateNews(ShowStore store, CrateStore crateStore, SealedFolders folders, OutboxWriter letters, TimeProvider clock)
{
    /// <summary>Who reads crates back.</summary>
    private const string Application = "the application";

    /// <summary>Writes down that a crate was sealed, what it answers and what it stands in place of, and tells of it.</summary>
    /// <param name="shot">The shot.</param>
    /// <param name="row">The crate as it is now.</param>
    /// <param name="change">What is noted of it in its row, together with the entry in the history.</param>
    /// <param name="cancel">Stops.</param>
    public async Task SealedAsync(ShotRow shot, CrateRow row, Action<CrateRow> change, CancellationToken cancel)
    {
        string name = row.Name!;
        var audited = new AuditEvent(
            row.By,
            HistoryKinds.Sealed,
            name,
            shot.Show.Code,
            shot.Code,
            null,
            $"{Words.Count(row.Files, "file")}, sealed"
        );
        if (await crateStore.NoteSealedAsync(row.Id, change, audited, $"{name} sealed by {row.By}", cancel))
        {
            await TellSupersededAsync(row, cancel);
        }

        await letters.TellAsync(
            EventDocument.About(shot, NotificationKinds.CrateSealed, clock.UtcNow, $"{name} is sealed") with
            {
                By = row.By,
                Counts = new Dictionary<string, long> { ["files"] = row.Files, ["bytes"] = row.Bytes },
            },
            "crate"
        );
    }

    /// <summary>Writes down what reading a crate back found.</summary>
    /// <param name="crate">The crate.</param>
    /// <param name="problems">What is wrong with it, a line each; empty when it is whole.</param>
    /// <param name="cancel">Stops.</param>
    public async Task VerifiedAsync(CrateRow crate, string problems, CancellationToken cancel)
    {
        string found = problems.Length == 0 ? "whole" : $"not whole: {problems.Split('\n')[0]}";
        ShotRow? shot = await store.ShotAsync(crate.ShotId, cancel);
        await crateStore.NoteVerifiedAsync(
            crate.Id,
            problems,
            new AuditEvent(Application, HistoryKinds.Verified, crate.Name ?? "", shot?.Show.Code, shot?.Code, null, found),
            $"{crate.Name} read back: {(problems.Length == 0 ? "whole" : "not whole")}",
            cancel
        );
        await folders.TellAsync(crate, Application, CrateEventKinds.Verified, found);
    }

    /// <summary>Writes down that a crate was sent, and whether it arrived.</summary>
    public async Task SentAsync(CrateRow crate, string by, string did, string what, CancellationToken cancel)
    {
        ShotRow? shot = await store.ShotAsync(crate.ShotId, cancel);
        await store.NoteAsync(
            crate.ShotId,
            $"{crate.Name} {(did == CrateEventKinds.Received ? "has arrived" : "did not arrive")}",
            new AuditEvent(by, HistoryKinds.Handed, crate.Name ?? "", shot?.Show.Code, shot?.Code, null, $"{did}: {what}"),
            cancel
        );
    }

    /// <summary>Writes into the histories of older crates for the same receiver that a newer one stands in their place.</summary>
    private async Task TellSupersededAsync(CrateRow crate, CancellationToken cancel)
    {
        foreach (CrateRow older in (await crateStore.CratesAsync(crate.ShotId, cancel)).Where(c => c.IsSupersededBy(crate)).Take(1))
        {
            await folders.TellAsync(older, crate.By, CrateEventKinds.Superseded, $"{crate.Name} stands in its place");
        }
    }
}
