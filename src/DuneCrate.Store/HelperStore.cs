using DuneCrate.Foundation.History;
using DuneCrate.Foundation.Time;
using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;

namespace DuneCrate.Store;

/// <summary>Scene helpers of shots. Safe to call from several threads.</summary>
public sealed class HelperStore(IDbContextFactory<DuneCrateContext> contexts, HistoryStore history, TimeProvider clock)
{
    /// <summary>The scene helpers of a shot, or null.</summary>
    public async Task<SceneHelpersRow?> HelpersAsync(int shotId, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return await context.SceneHelpers.AsNoTracking().FirstOrDefaultAsync(h => h.ShotId == shotId, cancel);
    }

    /// <summary>Keeps the scene helpers of a shot in the place of earlier ones.</summary>
    public Task SaveHelpersAsync(SceneHelpersRow helpers, AuditEvent? audited = null, CancellationToken cancel = default) =>
        history.ChangeAsync(
            (context, _) =>
            {
                helpers.At = clock.UtcNow;
                context.SceneHelpers.Update(helpers);
                return Task.CompletedTask;
            },
            audited,
            cancel
        );

    /// <summary>Forgets the scene helpers of a shot.</summary>
    public Task RemoveHelpersAsync(int shotId, AuditEvent? audited = null, CancellationToken cancel = default) =>
        history.ChangeAsync(
            (context, stop) => context.SceneHelpers.Where(h => h.ShotId == shotId).ExecuteDeleteAsync(stop),
            audited,
            cancel
        );
}
