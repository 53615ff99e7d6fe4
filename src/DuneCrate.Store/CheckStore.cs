using System.Linq.Expressions;
using DuneCrate.Checking.Reports;
using DuneCrate.Foundation.Time;
using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;

namespace DuneCrate.Store;

/// <summary>Checks and their reports. Safe to call from several threads.</summary>
public sealed class CheckStore(IDbContextFactory<DuneCrateContext> contexts, TimeProvider clock)
{
    /// <summary>A check as it is read where nobody asks for its report, which may take megabytes.</summary>
    private static readonly Expression<Func<CheckRow, CheckRow>> WithoutReport = c => new CheckRow
    {
        Id = c.Id,
        ShotId = c.ShotId,
        State = c.State,
        Pixels = c.Pixels,
        ByContent = c.ByContent,
        Revision = c.Revision,
        Asked = c.Asked,
        Ended = c.Ended,
        Problem = c.Problem,
    };

    /// <summary>The newest check of a shot, without its report; or null.</summary>
    public async Task<CheckRow?> NewestCheckAsync(int shotId, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return await context
            .Checks.AsNoTracking()
            .Where(c => c.ShotId == shotId)
            .OrderByDescending(c => c.Id)
            .Select(WithoutReport)
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
            .Select(WithoutReport)
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
            .Select(WithoutReport)
            .FirstOrDefaultAsync(cancel);
    }

    /// <summary>A check without its report, and its shot.</summary>
    public async Task<(CheckRow Check, ShotRow Shot)> CheckWithShotAsync(int id, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        CheckRow check = await context.Checks.AsNoTracking().Where(c => c.Id == id).Select(WithoutReport).FirstAsync(cancel);
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
            .Select(WithoutReport)
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
}
