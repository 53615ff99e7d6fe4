using DuneCrate.Foundation.History;
using DuneCrate.Foundation.Time;
using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;

namespace DuneCrate.Store;

/// <summary>Receivers of crates, and what they say of them. Safe to call from several threads.</summary>
public sealed class ReceiverStore(IDbContextFactory<DuneCrateContext> contexts, HistoryStore history, TimeProvider clock)
{
    /// <summary>Who gets crates of a show, by name.</summary>
    public async Task<List<ReceiverRow>> ReceiversAsync(string show, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return await context
            .Receivers.AsNoTracking()
            .Where(r => context.Shows.Any(s => s.Id == r.ShowId && s.Code == show))
            .OrderBy(r => r.Name)
            .ToListAsync(cancel);
    }

    /// <summary>Keeps a receiver, a new one when its key is 0.</summary>
    /// <returns>Whether it was kept; another one of the show may have the name.</returns>
    public Task<bool> SaveReceiverAsync(ReceiverRow receiver, AuditEvent? audited = null, CancellationToken cancel = default) =>
        history.TryChangeAsync(
            async (context, stop) =>
            {
                bool isTaken = await context.Receivers.AnyAsync(
                    r => r.ShowId == receiver.ShowId && r.Name == receiver.Name && r.Id != receiver.Id,
                    stop
                );
                if (!isTaken)
                {
                    context.Receivers.Update(receiver);
                }

                return !isTaken;
            },
            audited,
            cancel
        );

    /// <summary>Keeps what was changed of several receivers, all or none.</summary>
    public Task SaveReceiversAsync(IReadOnlyCollection<ReceiverRow> receivers, AuditEvent audited, CancellationToken cancel = default) =>
        history.ChangeAsync(
            (context, _) =>
            {
                context.Receivers.UpdateRange(receivers);
                return Task.CompletedTask;
            },
            audited,
            cancel
        );

    /// <summary>Takes a receiver away; crates that they got stay.</summary>
    /// <returns>The name, or null when the show has no such receiver.</returns>
    public Task<string?> RemoveReceiverAsync(
        int showId,
        int id,
        Func<string, AuditEvent>? audited = null,
        CancellationToken cancel = default
    ) =>
        history.TryChangeAsync(
            async (context, stop) =>
            {
                if (await context.Receivers.FirstOrDefaultAsync(r => r.ShowId == showId && r.Id == id, stop) is not { } receiver)
                {
                    return null;
                }

                context.Receivers.Remove(receiver);
                return receiver.Name;
            },
            audited,
            cancel
        );

    /// <summary>What was said of the crates of a shot, oldest first.</summary>
    public async Task<List<CrateRemarkRow>> RemarksAsync(int shotId, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return await context.CrateRemarks.AsNoTracking().Where(r => r.Crate.ShotId == shotId).OrderBy(r => r.Id).ToListAsync(cancel);
    }

    /// <summary>What was said of the crates of a shot and no crate answers yet, with the crates, oldest first.</summary>
    public async Task<List<CrateRemarkRow>> OpenRemarksAsync(int shotId, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return await context
            .CrateRemarks.AsNoTracking()
            .Include(r => r.Crate)
            .Where(r => r.Crate.ShotId == shotId && r.AnsweredBy == null)
            .OrderBy(r => r.Id)
            .ToListAsync(cancel);
    }

    /// <summary>Says what is wrong in a crate, which is thereby sent back.</summary>
    public Task SendBackAsync(CrateRemarkRow remark, AuditEvent? audited = null, CancellationToken cancel = default) =>
        history.ChangeAsync(
            async (context, stop) =>
            {
                CrateRow crate = await context.Crates.FirstAsync(c => c.Id == remark.CrateId, stop);
                (crate.Answer, crate.AnsweredBy, crate.Answered) = (CrateAnswer.SentBack, remark.By, remark.At);
                context.CrateRemarks.Add(remark);
            },
            audited,
            cancel
        );

    /// <summary>Accepts a crate. What was said is wrong in it is taken back thereby.</summary>
    public Task AcceptAsync(int crateId, string by, AuditEvent? audited = null, CancellationToken cancel = default) =>
        history.ChangeAsync(
            async (context, stop) =>
            {
                CrateRow crate = await context.Crates.FirstAsync(c => c.Id == crateId, stop);
                (crate.Answer, crate.AnsweredBy, crate.Answered) = (CrateAnswer.Accepted, by, clock.UtcNow);
                await context.CrateRemarks.Where(r => r.CrateId == crateId && r.AnsweredBy == null).ExecuteDeleteAsync(stop);
            },
            audited,
            cancel
        );

    /// <summary>Notes, within a transaction of others, that a new crate for a receiver answers what was said of earlier ones.</summary>
    internal static Task AnswerRemarksAsync(DuneCrateContext context, CrateRow crate, CancellationToken cancel) =>
        context
            .CrateRemarks.Where(r =>
                r.AnsweredBy == null && r.CrateId < crate.Id && r.Crate.ShotId == crate.ShotId && r.Crate.Receiver == crate.Receiver
            )
            .ExecuteUpdateAsync(s => s.SetProperty(r => r.AnsweredBy, crate.Name), cancel);
}
