using DuneCrate.Foundation.History;
using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;

namespace DuneCrate.Store;

/// <summary>How long what can be made anew is kept, and what the database holds. Safe to call from several threads.</summary>
public sealed class UpkeepStore(IDbContextFactory<DuneCrateContext> contexts, HistoryStore history)
{
    /// <summary>How long what can be made anew is kept.</summary>
    public async Task<UpkeepRow> UpkeepAsync(CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return await context.Upkeep.AsNoTracking().FirstOrDefaultAsync(cancel) ?? new UpkeepRow();
    }

    /// <summary>Settles how long what can be made anew is kept.</summary>
    public Task SaveUpkeepAsync(UpkeepRow upkeep, AuditEvent? audited = null, CancellationToken cancel = default) =>
        history.ChangeAsync(
            async (context, stop) =>
            {
                await context.Upkeep.ExecuteDeleteAsync(stop);
                context.Upkeep.Add(upkeep);
            },
            audited,
            cancel
        );

    /// <summary>What the database holds, in rows and bytes.</summary>
    public async Task<(int Checks, int Files, long Bytes)> HoldingsAsync(CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        long bytes = await context
            .Database.SqlQuery<long>($"SELECT page_count * page_size AS Value FROM pragma_page_count(), pragma_page_size()")
            .FirstAsync(cancel);
        return (await context.Checks.CountAsync(cancel), await context.Facts.CountAsync(cancel), bytes);
    }
}
