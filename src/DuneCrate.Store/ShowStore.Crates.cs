using DuneCrate.Checking.Findings;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.History;
using DuneCrate.Foundation.Time;
using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;

namespace DuneCrate.Store;

/// <content>Waivers, notes, crates, the yard and upkeep.</content>
public sealed partial class ShowStore
{
    /// <summary>The waivers of a shot, oldest first.</summary>
    public async Task<List<WaiverRow>> WaiversAsync(int shotId, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return await context.Waivers.AsNoTracking().Where(w => w.ShotId == shotId).OrderBy(w => w.Id).ToListAsync(cancel);
    }

    /// <summary>Accepts findings; it is written down with them who did.</summary>
    public Task WaiveAsync(
        IReadOnlyCollection<WaiverRow> waivers,
        IReadOnlyCollection<AuditEvent> events,
        CancellationToken cancel = default
    ) =>
        history.ChangeAsync(
            (context, _) =>
            {
                context.Waivers.AddRange(waivers);
                return Task.CompletedTask;
            },
            events,
            cancel
        );

    /// <summary>Takes waivers back.</summary>
    public Task UnwaiveAsync(int shotId, int[] ids, IReadOnlyCollection<AuditEvent> events, CancellationToken cancel = default) =>
        history.ChangeAsync(
            (context, stop) => context.Waivers.Where(w => w.ShotId == shotId && ids.Contains(w.Id)).ExecuteDeleteAsync(stop),
            events,
            cancel
        );

    /// <summary>A waiver as rules read it.</summary>
    public static Waiver ToWaiver(WaiverRow row) =>
        new()
        {
            Rule = row.Rule,
            Output = row.Output,
            Pass = row.Pass,
            Frames = row.Frames.Length == 0 ? null : FrameSet.Parse(row.Frames),
            By = row.By,
            Reason = row.Reason,
        };

    /// <summary>The findings of a shot that were handed to people, oldest first.</summary>
    public async Task<List<FindingNote>> NotesAsync(int shotId, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return await context
            .FindingNotes.AsNoTracking()
            .Where(n => n.ShotId == shotId)
            .OrderBy(n => n.Id)
            .Select(n => new FindingNote(n.Rule, n.Output, n.Pass, n.To, n.By, n.Note, n.At))
            .ToListAsync(cancel);
    }

    /// <summary>Gives findings into somebody's hands; who had one before has it no more.</summary>
    public Task HandAsync(
        int shotId,
        IReadOnlyCollection<FindingNote> notes,
        IReadOnlyCollection<AuditEvent> events,
        CancellationToken cancel = default
    ) =>
        history.ChangeAsync(
            async (context, stop) =>
            {
                foreach (FindingNote note in notes)
                {
                    await NotesOf(context, shotId, note.Rule, note.Output, note.Pass).ExecuteDeleteAsync(stop);
                    context.FindingNotes.Add(
                        new FindingNoteRow
                        {
                            ShotId = shotId,
                            Rule = note.Rule,
                            Output = note.Output,
                            Pass = note.Pass,
                            To = note.To,
                            By = note.By,
                            Note = note.Note,
                            At = note.At,
                        }
                    );
                }
            },
            events,
            cancel
        );

    /// <summary>Takes a finding out of somebody's hands.</summary>
    public Task TakeBackAsync(
        int shotId,
        string rule,
        string output,
        string? pass,
        IReadOnlyCollection<AuditEvent> events,
        CancellationToken cancel = default
    ) => history.ChangeAsync((context, stop) => NotesOf(context, shotId, rule, output, pass).ExecuteDeleteAsync(stop), events, cancel);

    private static IQueryable<FindingNoteRow> NotesOf(DuneCrateContext context, int shotId, string rule, string output, string? pass) =>
        context.FindingNotes.Where(n => n.ShotId == shotId && n.Rule == rule && n.Output == output && n.Pass == pass);

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

    /// <summary>
    /// Every shot that is worked on in a few words, by show and code, with the keys of what its state is worked out from: one query.
    /// </summary>
    public async Task<List<YardRow>> YardAsync(CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return await context
            .Shots.AsNoTracking()
            .Where(s => s.ArchivedAt == null && s.Show.ArchivedAt == null)
            .OrderBy(s => s.Show.Code)
            .ThenBy(s => s.Code)
            .Select(s => new YardRow
            {
                ShowId = s.ShowId,
                Show = s.Show.Code,
                ShowSettings = s.Show.SettingsJson,
                ShotId = s.Id,
                Shot = s.Code,
                Revision = s.Revision,
                LastEvent = s.LastEvent,
                LastEventAt = s.LastEventAt,
                NewestCheck = context.Checks.Where(c => c.ShotId == s.Id).Max(c => (int?)c.Id) ?? 0,
                NewestReport = context.Checks.Where(c => c.ShotId == s.Id && c.State == JobState.Done).Max(c => (int?)c.Id) ?? 0,
                IsChecking = context
                    .Checks.Where(c => c.ShotId == s.Id)
                    .OrderByDescending(c => c.Id)
                    .Select(c => c.State == JobState.Queued || c.State == JobState.Running)
                    .FirstOrDefault(),
                Waivers = context.Waivers.Count(w => w.ShotId == s.Id),
                NewestWaiver = context.Waivers.Where(w => w.ShotId == s.Id).Max(w => (int?)w.Id) ?? 0,
                Notes = context.FindingNotes.Count(n => n.ShotId == s.Id),
                NewestNote = context.FindingNotes.Where(n => n.ShotId == s.Id).Max(n => (int?)n.Id) ?? 0,
                Crates = context.Crates.Count(c => c.ShotId == s.Id),
                OpenRemarks = context.CrateRemarks.Where(r => r.Crate.ShotId == s.Id && r.AnsweredBy == null).Sum(r => r.Id),
                NewestCrateChange = context.Crates.Where(c => c.ShotId == s.Id).Max(c => c.Verified ?? c.Ended ?? c.Asked),
            })
            .ToListAsync(cancel);
    }

    /// <summary>Forgets finished, stopped and failed checks of every shot beyond the newest ones.</summary>
    /// <returns>Checks forgotten.</returns>
    public async Task<int> ForgetChecksAsync(int kept, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        int forgotten = 0;
        foreach (int shot in await context.Shots.Select(s => s.Id).ToListAsync(cancel))
        {
            int[] old = await context
                .Checks.Where(c => c.ShotId == shot && c.State != JobState.Queued && c.State != JobState.Running)
                .OrderByDescending(c => c.State == JobState.Done)
                .ThenByDescending(c => c.Id)
                .Skip(kept)
                .Select(c => c.Id)
                .ToArrayAsync(cancel);
            forgotten += await context.Checks.Where(c => old.Contains(c.Id)).ExecuteDeleteAsync(cancel);
        }

        return forgotten;
    }

    /// <summary>How long what can be made anew is kept.</summary>
    public async Task<UpkeepRow> UpkeepAsync(CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return await context.Upkeep.AsNoTracking().FirstOrDefaultAsync(cancel) ?? new UpkeepRow();
    }

    /// <summary>Settles how long what can be made anew is kept.</summary>
    public async Task SaveUpkeepAsync(UpkeepRow upkeep, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        await using var transaction = await context.Database.BeginTransactionAsync(cancel);
        await context.Upkeep.ExecuteDeleteAsync(cancel);
        context.Upkeep.Add(upkeep);
        await context.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
    }

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
