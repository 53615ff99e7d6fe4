using DuneCrate.Foundation.History;
using DuneCrate.Foundation.Time;
using DuneCrate.Shots.Notifications;
using DuneCrate.Store;
using DuneCrate.Store.Keeping;
using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;

namespace DuneCrate.Shots.Crating;

/// <summary>Links to one crate for somebody without an account: made, found, counted, taken back.</summary>
public sealed class GuestLinks(IDbContextFactory<DuneCrateContext> contexts, HistoryStore history, OutboxWriter letters, TimeProvider clock)
{
    /// <summary>What is fetched when it is the whole crate.</summary>
    public const string Whole = "zip";

    /// <summary>Most days that a link may work.</summary>
    public const int MostDays = 90;

    /// <summary>Makes a link.</summary>
    /// <returns>The word in it, which is kept as a hash alone.</returns>
    public async Task<string> MakeAsync(CrateRow crate, string whom, int days, string by, AuditEvent audited, CancellationToken cancel)
    {
        string word = SecretWords.New();
        var link = new GuestLinkRow
        {
            CrateId = crate.Id,
            Hash = SecretWords.HashOf(word),
            For = whom,
            By = by,
            At = clock.UtcNow,
            Ends = clock.UtcNow.AddDays(Math.Clamp(days, 1, MostDays)),
        };
        await history.ChangeAsync(
            (context, _) =>
            {
                context.GuestLinks.Add(link);
                return Task.CompletedTask;
            },
            audited,
            cancel
        );
        return word;
    }

    /// <summary>The links to crates of a shot, newest first.</summary>
    public async Task<List<GuestLinkRow>> ListAsync(int shotId, CancellationToken cancel)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return await context
            .GuestLinks.AsNoTracking()
            .Where(g => g.Crate.ShotId == shotId)
            .OrderByDescending(g => g.Id)
            .ToListAsync(cancel);
    }

    /// <summary>What a link leads to; null when it is none, has ended or was taken back.</summary>
    public async Task<(GuestLinkRow Link, ShotRow Shot)?> FindAsync(string word, CancellationToken cancel)
    {
        string hash = SecretWords.HashOf(word);
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        GuestLinkRow? link = await context
            .GuestLinks.AsNoTracking()
            .Include(g => g.Crate)
            .FirstOrDefaultAsync(g => g.Hash == hash && g.TakenBackAt == null, cancel);
        return link is null || link.Ends < clock.UtcNow || link.Crate.State != JobState.Done
            ? null
            : (link, await context.Shots.AsNoTracking().Include(s => s.Show).FirstAsync(s => s.Id == link.Crate.ShotId, cancel));
    }

    /// <summary>Counts a use, and writes it into the history.</summary>
    public async Task UsedAsync(GuestLinkRow link, ShotRow shot, string what, CancellationToken cancel)
    {
        DateTime now = clock.UtcNow;
        await history.ChangeAsync(
            (context, stop) =>
                context
                    .GuestLinks.Where(g => g.Id == link.Id)
                    .ExecuteUpdateAsync(g => g.SetProperty(x => x.Uses, x => x.Uses + 1).SetProperty(x => x.UsedAt, now), stop),
            new AuditEvent($"{link.For} by link", HistoryKinds.Handed, $"{link.Crate.Name} ({what})", shot.Show.Code, shot.Code),
            cancel
        );
        if (what == Whole)
        {
            await letters.TellAsync(
                EventDocument.About(shot, NotificationKinds.CrateHanded, clock.UtcNow, $"{link.Crate.Name} was fetched for {link.For}") with
                {
                    By = $"{link.For} by link",
                },
                "crate"
            );
        }
    }

    /// <summary>Takes a link back, at once.</summary>
    /// <param name="shotId">The shot.</param>
    /// <param name="id">Key of the link; nothing happens when the shot has none of it that still holds.</param>
    /// <param name="audited">What the history says, by whom the link was for.</param>
    /// <param name="cancel">Leaves.</param>
    public Task TakeBackAsync(int shotId, int id, Func<string, AuditEvent> audited, CancellationToken cancel) =>
        history.TryChangeAsync(
            async (context, stop) =>
            {
                GuestLinkRow? link = await context.GuestLinks.FirstOrDefaultAsync(
                    g => g.Id == id && g.Crate.ShotId == shotId && g.TakenBackAt == null,
                    stop
                );
                link?.TakenBackAt = clock.UtcNow;

                return link;
            },
            link => audited(link.For),
            cancel
        );
}
