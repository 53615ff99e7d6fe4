using DuneCrate.Foundation.History;
using DuneCrate.Foundation.Time;
using DuneCrate.Planning.Model;
using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;

namespace DuneCrate.Store;

/// <summary>Shows and shots: one method per question or change. Safe to call from several threads.</summary>
public sealed class ShowStore(
    IDbContextFactory<DuneCrateContext> contexts,
    ShowFolderStore folders,
    HistoryStore history,
    TimeProvider clock
)
{
    /// <summary>Every show with its shots, by code.</summary>
    public async Task<List<ShowRow>> ShowsAsync(CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return await context.Shows.AsNoTracking().Include(s => s.Shots.OrderBy(x => x.Code)).OrderBy(s => s.Code).ToListAsync(cancel);
    }

    /// <summary>Every show by code, without its shots' plans: with their codes alone.</summary>
    public async Task<List<ShowRow>> ShowNamesAsync(CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return await context
            .Shows.AsNoTracking()
            .OrderBy(s => s.Code)
            .Select(s => new ShowRow
            {
                Id = s.Id,
                Code = s.Code,
                Name = s.Name,
                FrameRate = s.FrameRate,
                Width = s.Width,
                Height = s.Height,
                SettingsJson = s.SettingsJson,
                ArchivedAt = s.ArchivedAt,
                Shots = s
                    .Shots.OrderBy(x => x.Code)
                    .Select(x => new ShotRow
                    {
                        Id = x.Id,
                        Code = x.Code,
                        PlanJson = "",
                        ArchivedAt = x.ArchivedAt,
                    })
                    .ToList(),
            })
            .ToListAsync(cancel);
    }

    /// <summary>A shot with its show, or null.</summary>
    public async Task<ShotRow?> ShotAsync(string show, string shot, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return await context
            .Shots.AsNoTracking()
            .Include(s => s.Show)
            .FirstOrDefaultAsync(s => s.Show.Code == show && s.Code == shot, cancel);
    }

    /// <summary>A shot with its show by key, or null.</summary>
    public async Task<ShotRow?> ShotAsync(int id, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return await context.Shots.AsNoTracking().Include(s => s.Show).FirstOrDefaultAsync(s => s.Id == id, cancel);
    }

    // Compiled: it is asked for every tile of a picture.
    private static readonly Func<DuneCrateContext, string, string, CancellationToken, Task<ShotStamp?>> Stamp = EF.CompileAsyncQuery(
        (DuneCrateContext context, string show, string shot, CancellationToken cancel) =>
            context
                .Shots.AsNoTracking()
                .Where(s => s.Show.Code == show && s.Code == shot)
                .Select(s => new ShotStamp(
                    s.Id,
                    s.Revision,
                    s.Show.SettingsJson,
                    s.Root,
                    s.Folder,
                    context.Checks.Where(c => c.ShotId == s.Id).Max(c => (int?)c.Id) ?? 0,
                    context.Checks.Count(c => c.ShotId == s.Id && c.State == JobState.Done),
                    context.Crates.Count(c => c.ShotId == s.Id && c.State == JobState.Done)
                ))
                .FirstOrDefault()
    );

    /// <summary>What tells whether the pictures of a shot would be asked for otherwise than before; null when there is none.</summary>
    public async Task<ShotStamp?> StampAsync(string show, string shot, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return await Stamp(context, show, shot, cancel);
    }

    /// <summary>Adds a show.</summary>
    /// <returns>False when the code is taken.</returns>
    public Task<bool> AddShowAsync(ShowRow show, AuditEvent? audited = null, CancellationToken cancel = default) =>
        history.TryChangeAsync(
            async (context, stop) =>
            {
                bool isTaken = await context.Shows.AnyAsync(s => s.Code.ToLower() == show.Code.ToLower(), stop);
                if (!isTaken)
                {
                    context.Shows.Add(show);
                }

                return !isTaken;
            },
            audited,
            cancel
        );

    /// <summary>Adds a shot with its plan.</summary>
    /// <returns>The new row, or null when the code is taken or there is no such show.</returns>
    public Task<ShotRow?> AddShotAsync(string showCode, Plan plan, AuditEvent? audited = null, CancellationToken cancel = default) =>
        history.TryChangeAsync(
            (context, stop) => AddShotAsync(context, showCode, plan, stop),
            audited is null ? null : _ => audited,
            cancel
        );

    private async Task<ShotRow?> AddShotAsync(DuneCrateContext context, string showCode, Plan plan, CancellationToken cancel)
    {
        ShowRow? show = await context.Shows.FirstOrDefaultAsync(s => s.Code == showCode, cancel);
        if (show is null || await context.Shots.AnyAsync(s => s.ShowId == show.Id && s.Code.ToLower() == plan.Shot.Code.ToLower(), cancel))
        {
            return null;
        }

        var shot = new ShotRow
        {
            ShowId = show.Id,
            Code = plan.Shot.Code,
            PlanJson = PlanDocument.Write(plan),
            LastEvent = "planned",
            LastEventAt = clock.UtcNow,
        };
        context.Shots.Add(shot);
        await context.SaveChangesAsync(cancel);
        context.PlanRevisions.Add(
            new PlanRevisionRow
            {
                ShotId = shot.Id,
                Revision = 0,
                Plan = PackedText.Pack(shot.PlanJson),
                What = "planned",
                At = shot.LastEventAt,
            }
        );
        return shot;
    }

    /// <summary>Says where a shot's files are; that folder belongs to its show from then on.</summary>
    public async Task SetFolderAsync(int shotId, string root, string folder, AuditEvent? audited = null, CancellationToken cancel = default)
    {
        int show = 0;
        bool isNew = false;
        await history.ChangeAsync(
            async (context, stop) =>
            {
                await context
                    .Shots.Where(s => s.Id == shotId)
                    .ExecuteUpdateAsync(s => s.SetProperty(x => x.Root, root).SetProperty(x => x.Folder, folder), stop);
                show = await context.Shots.Where(s => s.Id == shotId).Select(s => s.ShowId).FirstOrDefaultAsync(stop);
                isNew = show != 0 && await ShowFolderStore.GrantAsync(context, show, root, folder, stop);
            },
            audited,
            cancel
        );
        if (isNew)
        {
            folders.Tell(show);
        }
    }

    /// <summary>Notes what happened to a shot.</summary>
    public async Task NoteAsync(int shotId, string what, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        await NoteAsync(context, shotId, what, clock.UtcNow, cancel);
    }

    /// <summary>Notes what happened to a shot, and writes it into the history, in one transaction.</summary>
    public Task NoteAsync(int shotId, string what, AuditEvent audited, CancellationToken cancel = default) =>
        history.ChangeAsync((context, stop) => NoteAsync(context, shotId, what, clock.UtcNow, stop), [audited], cancel);

    /// <summary>The same within a transaction of others.</summary>
    internal static Task NoteAsync(DuneCrateContext context, int shotId, string what, DateTime at, CancellationToken cancel) =>
        context
            .Shots.Where(s => s.Id == shotId)
            .ExecuteUpdateAsync(s => s.SetProperty(x => x.LastEvent, what).SetProperty(x => x.LastEventAt, at), cancel);

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
}
