using DuneCrate.Foundation.History;
using DuneCrate.Foundation.Time;
using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;

namespace DuneCrate.Store;

/// <summary>Crates: asked for, sealed, read back, superseded. Safe to call from several threads.</summary>
public sealed class CrateStore(IDbContextFactory<DuneCrateContext> contexts, HistoryStore history, TimeProvider clock)
{
    /// <summary>The crates of a shot, newest first.</summary>
    public async Task<List<CrateRow>> CratesAsync(int shotId, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return await context.Crates.AsNoTracking().Where(c => c.ShotId == shotId).OrderByDescending(c => c.Id).ToListAsync(cancel);
    }

    /// <summary>One crate, or null.</summary>
    public async Task<CrateRow?> CrateAsync(int shotId, int id, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return await context.Crates.AsNoTracking().FirstOrDefaultAsync(c => c.ShotId == shotId && c.Id == id, cancel);
    }

    /// <summary>A crate and its shot.</summary>
    public async Task<(CrateRow Crate, ShotRow Shot)> CrateWithShotAsync(int id, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        CrateRow crate = await context.Crates.AsNoTracking().FirstAsync(c => c.Id == id, cancel);
        return (crate, await context.Shots.AsNoTracking().Include(s => s.Show).FirstAsync(s => s.Id == crate.ShotId, cancel));
    }

    /// <summary>Adds a crate to be sealed.</summary>
    /// <param name="shotId">The shot.</param>
    /// <param name="layout">Layout.</param>
    /// <param name="by">Who seals it.</param>
    /// <param name="receiver">Who gets it and what they want; null for files as they are.</param>
    /// <param name="ontoId">The crate that it is a delta onto; null for a whole one.</param>
    /// <param name="cancel">Stops.</param>
    public async Task<CrateRow> AddCrateAsync(
        int shotId,
        string layout,
        string by,
        string? receiver = null,
        string? recipe = null,
        int? ontoId = null,
        CancellationToken cancel = default
    )
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        var crate = new CrateRow
        {
            ShotId = shotId,
            Layout = layout,
            Receiver = receiver,
            Recipe = recipe,
            OntoId = ontoId,
            By = by,
            SealId = Guid.NewGuid(),
            State = JobState.Queued,
            Asked = clock.UtcNow,
        };
        context.Crates.Add(crate);
        await context.SaveChangesAsync(cancel);
        return crate;
    }

    /// <summary>Changes a crate.</summary>
    public async Task ChangeCrateAsync(int id, Action<CrateRow> change, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        CrateRow crate = await context.Crates.FirstAsync(c => c.Id == id, cancel);
        change(crate);
        await context.SaveChangesAsync(cancel);
    }

    /// <summary>
    /// Notes that a crate is sealed, with what it answers, what its shot says of it and the entry in the history, in one transaction.
    /// </summary>
    /// <returns>False when that was noted already; nothing is written twice then.</returns>
    public async Task<bool> NoteSealedAsync(
        int id,
        Action<CrateRow> change,
        AuditEvent audited,
        string said,
        CancellationToken cancel = default
    ) =>
        await history.TryChangeAsync(
            async (context, stop) =>
            {
                CrateRow crate = await context.Crates.FirstAsync(c => c.Id == id, stop);
                if (crate.State == JobState.Done)
                {
                    return false;
                }

                change(crate);
                await ReceiverStore.AnswerRemarksAsync(context, crate, stop);
                await ShowStore.NoteAsync(context, crate.ShotId, said, clock.UtcNow, stop);
                return true;
            },
            audited,
            cancel
        );

    /// <summary>Notes what reading a crate back found, what its shot says of it, and the history's entry, in one transaction.</summary>
    public Task NoteVerifiedAsync(int id, string problems, AuditEvent audited, string said, CancellationToken cancel = default) =>
        history.ChangeAsync(
            async (context, stop) =>
            {
                CrateRow crate = await context.Crates.FirstAsync(c => c.Id == id, stop);
                (crate.Verified, crate.VerifyProblems) = (clock.UtcNow, problems);
                await ShowStore.NoteAsync(context, crate.ShotId, said, clock.UtcNow, stop);
            },
            audited,
            cancel
        );

    /// <summary>
    /// Crates whose files are there, in whose place a whole one has stood since before a moment, and on which no delta rests whose own
    /// files are there.
    /// </summary>
    public async Task<List<CrateRow>> SupersededCratesAsync(DateTime before, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return await context
            .Crates.AsNoTracking()
            .Where(c => c.State == JobState.Done && c.Gone == null)
            .Where(c =>
                context.Crates.Any(n =>
                    n.ShotId == c.ShotId
                    && n.Receiver == c.Receiver
                    && n.Id > c.Id
                    && n.State == JobState.Done
                    && n.OntoId == null
                    && n.Gone == null
                    && n.Ended < before
                ) && !context.Crates.Any(d => d.OntoId == c.Id && d.State == JobState.Done && d.Gone == null)
            )
            .OrderBy(c => c.Id)
            .ToListAsync(cancel);
    }

    /// <summary>The shots whose crates were made last, by codes of show and shot.</summary>
    public async Task<List<(string Show, string Shot)>> ShotsCratedLastAsync(int most, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        List<int> newest = await context.Crates.OrderByDescending(c => c.Id).Take(most).Select(c => c.ShotId).ToListAsync(cancel);
        int[] ids = [.. newest.Distinct()];
        var shots = await context.Shots.Where(s => ids.Contains(s.Id)).Select(s => new { Show = s.Show.Code, s.Code }).ToListAsync(cancel);
        return [.. shots.Select(s => (s.Show, s.Code))];
    }

    /// <summary>Crates that were waiting or being sealed when the application last ended, with their shots, oldest first.</summary>
    public async Task<List<(CrateRow Crate, ShotRow Shot)>> UnfinishedCratesAsync(CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        List<CrateRow> crates = await context
            .Crates.AsNoTracking()
            .Where(c => c.State == JobState.Queued || c.State == JobState.Running)
            .OrderBy(c => c.Id)
            .ToListAsync(cancel);
        int[] ids = [.. crates.Select(c => c.ShotId).Distinct()];
        Dictionary<int, ShotRow> shots = await context
            .Shots.AsNoTracking()
            .Include(s => s.Show)
            .Where(s => ids.Contains(s.Id))
            .ToDictionaryAsync(s => s.Id, cancel);
        return [.. crates.Where(c => shots.ContainsKey(c.ShotId)).Select(c => (c, shots[c.ShotId]))];
    }
}
