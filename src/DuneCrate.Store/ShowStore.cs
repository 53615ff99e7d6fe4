using DuneCrate.Checking.Reports;
using DuneCrate.Foundation.Time;
using DuneCrate.Planning.Model;
using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;

namespace DuneCrate.Store;

/// <summary>Shows, shots, checks, waivers and crates: one method per question or change. Safe to call from several threads.</summary>
public sealed partial class ShowStore(
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
    public async Task<bool> AddShowAsync(ShowRow show, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        await using var transaction = await context.Database.BeginTransactionAsync(cancel);
        if (await context.Shows.AnyAsync(s => s.Code.ToLower() == show.Code.ToLower(), cancel))
        {
            return false;
        }

        context.Shows.Add(show);
        await context.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return true;
    }

    /// <summary>Adds a shot with its plan.</summary>
    /// <returns>The new row, or null when the code is taken or there is no such show.</returns>
    public async Task<ShotRow?> AddShotAsync(string showCode, Plan plan, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        await using var transaction = await context.Database.BeginTransactionAsync(cancel);
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
        await context.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return shot;
    }

    /// <summary>Says where a shot's files are; that folder belongs to its show from then on.</summary>
    public async Task SetFolderAsync(int shotId, string root, string folder, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        await context
            .Shots.Where(s => s.Id == shotId)
            .ExecuteUpdateAsync(s => s.SetProperty(x => x.Root, root).SetProperty(x => x.Folder, folder), cancel);
        int show = await context.Shots.Where(s => s.Id == shotId).Select(s => s.ShowId).FirstOrDefaultAsync(cancel);
        if (show != 0)
        {
            await folders.GrantAsync(show, root, folder, cancel);
        }
    }

    /// <summary>Notes what happened to a shot.</summary>
    public async Task NoteAsync(int shotId, string what, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        await context
            .Shots.Where(s => s.Id == shotId)
            .ExecuteUpdateAsync(s => s.SetProperty(x => x.LastEvent, what).SetProperty(x => x.LastEventAt, clock.UtcNow), cancel);
    }

    /// <summary>The newest check of a shot, without its report; or null.</summary>
    public async Task<CheckRow?> NewestCheckAsync(int shotId, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return await context
            .Checks.AsNoTracking()
            .Where(c => c.ShotId == shotId)
            .OrderByDescending(c => c.Id)
            .Select(c => new CheckRow
            {
                Id = c.Id,
                ShotId = c.ShotId,
                State = c.State,
                Pixels = c.Pixels,
                Revision = c.Revision,
                Asked = c.Asked,
                Ended = c.Ended,
                Problem = c.Problem,
            })
            .FirstOrDefaultAsync(cancel);
    }

    /// <summary>The newest finished check of a shot, with its report; or null.</summary>
    public async Task<CheckRow?> NewestReportAsync(int shotId, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return await context
            .Checks.AsNoTracking()
            .Where(c => c.ShotId == shotId && c.State == JobState.Done)
            .OrderByDescending(c => c.Id)
            .FirstOrDefaultAsync(cancel);
    }

    /// <summary>Key of the newest finished check of a shot, or 0.</summary>
    public async Task<int> NewestReportIdAsync(int shotId, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return await context.Checks.Where(c => c.ShotId == shotId && c.State == JobState.Done).MaxAsync(c => (int?)c.Id, cancel) ?? 0;
    }

    /// <summary>The finished checks of a shot without their reports, newest first.</summary>
    public async Task<List<CheckRow>> FinishedChecksAsync(int shotId, int most = 50, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return await context
            .Checks.AsNoTracking()
            .Where(c => c.ShotId == shotId && c.State == JobState.Done)
            .OrderByDescending(c => c.Id)
            .Take(most)
            .Select(c => new CheckRow
            {
                Id = c.Id,
                ShotId = c.ShotId,
                State = c.State,
                Pixels = c.Pixels,
                Revision = c.Revision,
                Asked = c.Asked,
                Ended = c.Ended,
            })
            .ToListAsync(cancel);
    }

    /// <summary>The report of a finished check, or null.</summary>
    public async Task<CheckReport?> ReportAsync(int checkId, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        byte[]? packed = await context.Checks.Where(c => c.Id == checkId).Select(c => c.Report).FirstOrDefaultAsync(cancel);
        return packed is null ? null : CheckReport.Read(PackedText.Unpack(packed));
    }

    /// <summary>A check of a shot without its report, or null.</summary>
    public async Task<CheckRow?> CheckAsync(int shotId, int id, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return await context
            .Checks.AsNoTracking()
            .Where(c => c.ShotId == shotId && c.Id == id)
            .Select(c => new CheckRow
            {
                Id = c.Id,
                ShotId = c.ShotId,
                State = c.State,
                Problem = c.Problem,
            })
            .FirstOrDefaultAsync(cancel);
    }

    /// <summary>A check without its report, and its shot.</summary>
    public async Task<(CheckRow Check, ShotRow Shot)> CheckWithShotAsync(int id, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        CheckRow check = await context.Checks.AsNoTracking().FirstAsync(c => c.Id == id, cancel);
        return (check, await context.Shots.AsNoTracking().Include(s => s.Show).FirstAsync(s => s.Id == check.ShotId, cancel));
    }

    /// <summary>Adds a check to be run.</summary>
    public async Task<CheckRow> AddCheckAsync(int shotId, bool pixels, bool byContent = false, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        var check = new CheckRow
        {
            ShotId = shotId,
            Pixels = pixels,
            ByContent = byContent,
            State = JobState.Queued,
            Asked = clock.UtcNow,
        };
        context.Checks.Add(check);
        await context.SaveChangesAsync(cancel);
        return check;
    }

    /// <summary>
    /// Keeps what a sealing found when it read everything once more: it is the shot's newest check then, unless the newest says the same.
    /// </summary>
    /// <returns>The check's key, or null when nothing was kept.</returns>
    public async Task<int?> KeepCheckAsync(int shotId, int revision, CheckReport report, CancellationToken cancel = default)
    {
        if (
            await NewestReportAsync(shotId, cancel) is { Pixels: true, Report: { } packed } newest
            && newest.Revision == revision
            && CheckReport.Read(PackedText.Unpack(packed)).SaysTheSameAs(report)
        )
        {
            return null;
        }

        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        var check = new CheckRow
        {
            ShotId = shotId,
            Pixels = true,
            State = JobState.Done,
            Asked = clock.UtcNow,
            Ended = clock.UtcNow,
            Revision = revision,
            Report = PackedText.Pack(report.Write()),
        };
        context.Checks.Add(check);
        await context.SaveChangesAsync(cancel);
        return check.Id;
    }

    /// <summary>Changes a check's state; with a report when it is done.</summary>
    public async Task SetCheckAsync(
        int id,
        JobState state,
        int? revision = null,
        CheckReport? report = null,
        string? problem = null,
        CancellationToken cancel = default
    )
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        CheckRow check = await context.Checks.FirstAsync(c => c.Id == id, cancel);
        check.State = state;
        check.Revision = revision ?? check.Revision;
        check.Problem = problem;
        check.Ended = state is JobState.Done or JobState.Stopped or JobState.Failed ? clock.UtcNow : null;
        check.Report = report is null ? check.Report : PackedText.Pack(report.Write());
        await context.SaveChangesAsync(cancel);
    }

    /// <summary>Notes that a check failed, unless its end was noted already.</summary>
    public async Task FailCheckAsync(int id, string problem, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        DateTime now = clock.UtcNow;
        await context
            .Checks.Where(c => c.Id == id && (c.State == JobState.Queued || c.State == JobState.Running))
            .ExecuteUpdateAsync(
                c => c.SetProperty(x => x.State, JobState.Failed).SetProperty(x => x.Problem, problem).SetProperty(x => x.Ended, now),
                cancel
            );
    }

    /// <summary>Checks that were waiting or running when the application last ended, oldest first.</summary>
    public async Task<List<CheckRow>> UnfinishedChecksAsync(CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return await context
            .Checks.AsNoTracking()
            .Where(c => c.State == JobState.Queued || c.State == JobState.Running)
            .OrderBy(c => c.Id)
            .ToListAsync(cancel);
    }
}
