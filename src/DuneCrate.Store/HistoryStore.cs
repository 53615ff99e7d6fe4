using DuneCrate.Foundation.History;
using DuneCrate.Foundation.Time;
using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;

namespace DuneCrate.Store;

/// <summary>The history of who did what: added to, read, verified. Safe to call from several threads.</summary>
public sealed class HistoryStore(IDbContextFactory<DuneCrateContext> contexts, TimeProvider clock)
{
    /// <summary>Raised when an entry was written.</summary>
    public event Action<HistoryEntry>? Added;

    /// <summary>Writes down what somebody did.</summary>
    /// <returns>The entry with its place and hash.</returns>
    public async Task<HistoryEntry> AddAsync(AuditEvent audited, CancellationToken cancel = default) =>
        (await ChangeAsync((_, _) => Task.CompletedTask, [audited], cancel))[0];

    /// <summary>Changes something and writes down who did it, in one transaction: both are there, or neither.</summary>
    /// <param name="change">Makes the change; saving is done for it.</param>
    /// <param name="events">What is written down of it, in order.</param>
    /// <param name="cancel">Leaves everything as it was.</param>
    /// <returns>The entries with their places and hashes.</returns>
    public async Task<HistoryEntry[]> ChangeAsync(
        Func<DuneCrateContext, CancellationToken, Task> change,
        IReadOnlyCollection<AuditEvent> events,
        CancellationToken cancel
    ) =>
        await TryChangeAsync(
            async (context, stop) =>
            {
                await change(context, stop);
                return true;
            },
            events,
            cancel
        ) ?? [];

    /// <summary>The same with one entry, or with none.</summary>
    public Task ChangeAsync(Func<DuneCrateContext, CancellationToken, Task> change, AuditEvent? audited, CancellationToken cancel) =>
        ChangeAsync(change, audited is null ? [] : [audited], cancel);

    /// <summary>The same with one entry, or with none, for a change that may turn out to be none.</summary>
    /// <returns>Whether something was changed.</returns>
    public async Task<bool> TryChangeAsync(
        Func<DuneCrateContext, CancellationToken, Task<bool>> change,
        AuditEvent? audited,
        CancellationToken cancel
    ) => await TryChangeAsync(change, audited is null ? [] : [audited], cancel) is not null;

    /// <summary>The same for something that is looked for first, and that the entry speaks of.</summary>
    /// <param name="change">Finds and changes it; null when there is none.</param>
    /// <param name="audited">What is written down of it; null for nothing.</param>
    /// <param name="cancel">Leaves everything as it was.</param>
    /// <returns>What was changed, or null.</returns>
    public async Task<T?> TryChangeAsync<T>(
        Func<DuneCrateContext, CancellationToken, Task<T?>> change,
        Func<T, AuditEvent>? audited,
        CancellationToken cancel
    )
        where T : class
    {
        T? found = null;
        List<AuditEvent> events = [];
        await TryChangeAsync(
            async (context, stop) =>
            {
                found = await change(context, stop);
                if (found is not null && audited is not null)
                {
                    events.Add(audited(found));
                }

                return found is not null;
            },
            events,
            cancel
        );
        return found;
    }

    /// <summary>The same for a change that may turn out to be none: nothing is written then.</summary>
    /// <returns>The entries; null when nothing was changed.</returns>
    public async Task<HistoryEntry[]?> TryChangeAsync(
        Func<DuneCrateContext, CancellationToken, Task<bool>> change,
        IReadOnlyCollection<AuditEvent> events,
        CancellationToken cancel
    )
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return await TryChangeAsync(context, change, events, cancel);
    }

    /// <summary>The same in a context that is open already, for those that others write to as well.</summary>
    public async Task<HistoryEntry[]?> TryChangeAsync(
        DuneCrateContext context,
        Func<DuneCrateContext, CancellationToken, Task<bool>> change,
        IReadOnlyCollection<AuditEvent> events,
        CancellationToken cancel
    )
    {
        // The newest entry is read and the next one written in one go: SQLite lets nobody else write meanwhile.
        await using var transaction = await context.Database.BeginTransactionAsync(System.Data.IsolationLevel.Serializable, cancel);
        if (!await change(context, cancel))
        {
            return null;
        }

        HistoryRow? last = await context.History.AsNoTracking().OrderByDescending(h => h.Number).FirstOrDefaultAsync(cancel);
        HistoryEntry? before = last is null ? null : ToEntry(last);
        var entries = new List<HistoryEntry>(events.Count);
        foreach (AuditEvent audited in events)
        {
            entries.Add(before = HistoryChain.Next(before, clock.UtcNow, audited));
            context.History.Add(ToRow(before));
        }

        await context.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        entries.ForEach(e => Added?.Invoke(e));
        return [.. entries];
    }

    /// <summary>Entries, newest first.</summary>
    /// <param name="query">Which.</param>
    /// <param name="before">Only those with a lower number; 0 for all.</param>
    /// <param name="most">How many at most.</param>
    /// <param name="cancel">Leaves.</param>
    public async Task<List<HistoryEntry>> ListAsync(HistoryQuery query, long before, int most, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        IQueryable<HistoryRow> rows = Where(context, query);
        rows = before > 0 ? rows.Where(h => h.Number < before) : rows;
        return [.. (await rows.OrderByDescending(h => h.Number).Take(most).ToListAsync(cancel)).Select(ToEntry)];
    }

    /// <summary>All entries that are asked for, oldest first, one after the other.</summary>
    public async IAsyncEnumerable<HistoryEntry> AllAsync(HistoryQuery query)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync();
        await foreach (HistoryRow row in Where(context, query).OrderBy(h => h.Number).AsAsyncEnumerable())
        {
            yield return ToEntry(row);
        }
    }

    /// <summary>Everybody whom the history names, by name.</summary>
    public async Task<List<string>> PeopleAsync(CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return await context.History.Select(h => h.Who).Distinct().OrderBy(w => w).ToListAsync(cancel);
    }

    /// <summary>What is wrong with the history of a database, in words, or null; and how many entries it has.</summary>
    internal static (string? Problem, long Entries) Verify(DuneCrateContext context)
    {
        long count = 0;
        IEnumerable<HistoryEntry> Counted()
        {
            foreach (HistoryRow row in context.History.AsNoTracking().OrderBy(h => h.Number))
            {
                count++;
                yield return ToEntry(row);
            }
        }

        string? problem = HistoryChain.Problem(Counted());
        return (problem, count);
    }

    private static HistoryRow ToRow(HistoryEntry entry) =>
        new()
        {
            Number = entry.Number,
            At = entry.At,
            Who = entry.Who,
            Kind = entry.Kind,
            Show = entry.Show,
            Shot = entry.Shot,
            Subject = entry.Subject,
            Before = entry.Before,
            After = entry.After,
            Previous = entry.Previous,
            Hash = entry.Hash,
        };

    private static IQueryable<HistoryRow> Where(DuneCrateContext context, HistoryQuery query)
    {
        IQueryable<HistoryRow> rows = context.History.AsNoTracking();
        rows = query.Show is { } show ? rows.Where(h => h.Show == show) : rows;
        rows = query.Shot is { } shot ? rows.Where(h => h.Shot == shot) : rows;
        rows = query.Who is { } who ? rows.Where(h => h.Who == who) : rows;
        rows = query.Kind is { } kind ? rows.Where(h => h.Kind == kind) : rows;
        if (query.Day is { } day)
        {
            (DateTime from, DateTime to) = (
                day.ToDateTime(default, DateTimeKind.Utc),
                day.AddDays(1).ToDateTime(default, DateTimeKind.Utc)
            );
            rows = rows.Where(h => h.At >= from && h.At < to);
        }

        return rows;
    }

    private static HistoryEntry ToEntry(HistoryRow row) =>
        new(row.Number, row.At, row.Who, row.Kind, row.Show, row.Shot, row.Subject, row.Before, row.After, row.Previous, row.Hash);
}
