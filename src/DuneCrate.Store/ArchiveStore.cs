using DuneCrate.Foundation.History;
using DuneCrate.Foundation.Time;
using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;

namespace DuneCrate.Store;

/// <summary>What is kept of shows and shots: put into the archive, taken out of it, deleted. Safe to call from several threads.</summary>
public sealed class ArchiveStore(IDbContextFactory<DuneCrateContext> contexts, HistoryStore history, TimeProvider clock)
{
    /// <summary>What is known of shots beside their files.</summary>
    /// <param name="shotIds">Keys of the shots.</param>
    /// <param name="cancel">Stops the reading.</param>
    public async Task<ShotHoldings> HoldingsOfAsync(int[] shotIds, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return new ShotHoldings(
            shotIds.Length,
            await context.PlanRevisions.CountAsync(r => shotIds.Contains(r.ShotId), cancel),
            await context.Checks.CountAsync(c => shotIds.Contains(c.ShotId), cancel),
            await context.Waivers.CountAsync(w => shotIds.Contains(w.ShotId), cancel),
            await context.FindingNotes.CountAsync(n => shotIds.Contains(n.ShotId), cancel),
            await context.PictureNotes.CountAsync(n => shotIds.Contains(n.ShotId), cancel),
            await context.Stacks.CountAsync(s => shotIds.Contains(s.ShotId), cancel),
            await context.PreflightTicks.CountAsync(t => shotIds.Contains(t.ShotId), cancel),
            await context
                .Crates.AsNoTracking()
                .Where(c => shotIds.Contains(c.ShotId) && c.Path != null)
                .OrderBy(c => c.Path)
                .Select(c => c.Path!)
                .ToListAsync(cancel)
        );
    }

    /// <summary>Puts a shot into the archive, or takes it out again.</summary>
    public Task ArchiveShotAsync(int id, bool isArchived, AuditEvent? audited = null, CancellationToken cancel = default)
    {
        DateTime? at = isArchived ? clock.UtcNow : null;
        return history.ChangeAsync(
            (context, stop) => context.Shots.Where(s => s.Id == id).ExecuteUpdateAsync(s => s.SetProperty(x => x.ArchivedAt, at), stop),
            audited,
            cancel
        );
    }

    /// <summary>Puts a show into the archive, or takes it out again.</summary>
    public Task ArchiveShowAsync(int id, bool isArchived, AuditEvent? audited = null, CancellationToken cancel = default)
    {
        DateTime? at = isArchived ? clock.UtcNow : null;
        return history.ChangeAsync(
            (context, stop) => context.Shows.Where(s => s.Id == id).ExecuteUpdateAsync(s => s.SetProperty(x => x.ArchivedAt, at), stop),
            audited,
            cancel
        );
    }

    /// <summary>Deletes what is known of a shot, all of it or nothing. No file of the shot and no sealed crate is touched.</summary>
    public Task DeleteShotAsync(int id, AuditEvent? audited = null, CancellationToken cancel = default) =>
        history.ChangeAsync((context, stop) => DeleteShotsAsync(context, context.Shots.Where(s => s.Id == id), stop), audited, cancel);

    /// <summary>Deletes a show with all that is known of its shots, all of it or nothing. No file is touched.</summary>
    public Task DeleteShowAsync(int id, AuditEvent? audited = null, CancellationToken cancel = default) =>
        history.ChangeAsync(
            async (context, stop) =>
            {
                await DeleteShotsAsync(context, context.Shots.Where(s => s.ShowId == id), stop);
                await context.PlanTemplates.Where(t => t.ShowId == id).ExecuteDeleteAsync(stop);
                await context.Receivers.Where(r => r.ShowId == id).ExecuteDeleteAsync(stop);
                await context.Shows.Where(s => s.Id == id).ExecuteDeleteAsync(stop);
            },
            audited,
            cancel
        );

    private static async Task DeleteShotsAsync(DuneCrateContext context, IQueryable<ShotRow> shots, CancellationToken cancel)
    {
        IQueryable<int> ids = shots.Select(s => s.Id);
        await context.PlanRevisions.Where(r => ids.Contains(r.ShotId)).ExecuteDeleteAsync(cancel);
        await context.Checks.Where(c => ids.Contains(c.ShotId)).ExecuteDeleteAsync(cancel);
        await context.Waivers.Where(w => ids.Contains(w.ShotId)).ExecuteDeleteAsync(cancel);
        await context.FindingNotes.Where(n => ids.Contains(n.ShotId)).ExecuteDeleteAsync(cancel);
        await context.PictureNotes.Where(n => ids.Contains(n.ShotId)).ExecuteDeleteAsync(cancel);
        await context.SceneHelpers.Where(h => ids.Contains(h.ShotId)).ExecuteDeleteAsync(cancel);
        await context.Stacks.Where(s => ids.Contains(s.ShotId)).ExecuteDeleteAsync(cancel);
        await context.PreflightTicks.Where(t => ids.Contains(t.ShotId)).ExecuteDeleteAsync(cancel);
        await context.Crates.Where(c => ids.Contains(c.ShotId)).ExecuteDeleteAsync(cancel);
        await shots.ExecuteDeleteAsync(cancel);
    }
}
