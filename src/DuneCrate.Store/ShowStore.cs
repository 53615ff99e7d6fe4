using DuneCrate.Core.Checks.Findings;
using DuneCrate.Core.Checks.Reports;
using DuneCrate.Core.Documents;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Planning.Model;
using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;

namespace DuneCrate.Store;

/// <summary>Shows, shots, checks, waivers and crates: one method per question or change. Safe to call from several threads.</summary>
public sealed class ShowStore(IDbContextFactory<DuneCrateContext> contexts)
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
                Shots = s
                    .Shots.OrderBy(x => x.Code)
                    .Select(x => new ShotRow
                    {
                        Id = x.Id,
                        Code = x.Code,
                        PlanJson = "",
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
            LastEventAt = DateTime.UtcNow,
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

    /// <summary>Description where a shot's files are.</summary>
    public async Task SetFolderAsync(int shotId, string root, string folder, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        await context
            .Shots.Where(s => s.Id == shotId)
            .ExecuteUpdateAsync(s => s.SetProperty(x => x.Root, root).SetProperty(x => x.Folder, folder), cancel);
    }

    /// <summary>Notes what happened to a shot.</summary>
    public async Task NoteAsync(int shotId, string what, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        await context
            .Shots.Where(s => s.Id == shotId)
            .ExecuteUpdateAsync(s => s.SetProperty(x => x.LastEvent, what).SetProperty(x => x.LastEventAt, DateTime.UtcNow), cancel);
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
            Asked = DateTime.UtcNow,
        };
        context.Checks.Add(check);
        await context.SaveChangesAsync(cancel);
        return check;
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
        check.Ended = state is JobState.Done or JobState.Stopped or JobState.Failed ? DateTime.UtcNow : null;
        check.Report = report is null ? check.Report : PackedText.Pack(report.Write());
        await context.SaveChangesAsync(cancel);
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

    /// <summary>The waivers of a shot, oldest first.</summary>
    public async Task<List<WaiverRow>> WaiversAsync(int shotId, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return await context.Waivers.AsNoTracking().Where(w => w.ShotId == shotId).OrderBy(w => w.Id).ToListAsync(cancel);
    }

    /// <summary>Adds a waiver.</summary>
    public async Task AddWaiverAsync(WaiverRow waiver, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        context.Waivers.Add(waiver);
        await context.SaveChangesAsync(cancel);
    }

    /// <summary>Takes a waiver back.</summary>
    public async Task RemoveWaiverAsync(int shotId, int id, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        await context.Waivers.Where(w => w.ShotId == shotId && w.Id == id).ExecuteDeleteAsync(cancel);
    }

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

    /// <summary>Hands a finding to a person; an earlier note about it goes.</summary>
    public async Task HandAsync(int shotId, FindingNote note, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        await using var transaction = await context.Database.BeginTransactionAsync(cancel);
        await context
            .FindingNotes.Where(n => n.ShotId == shotId && n.Rule == note.Rule && n.Output == note.Output && n.Pass == note.Pass)
            .ExecuteDeleteAsync(cancel);
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
        await context.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
    }

    /// <summary>Takes a finding out of somebody's hands.</summary>
    public async Task TakeBackAsync(int shotId, string rule, string output, string? pass, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        await context
            .FindingNotes.Where(n => n.ShotId == shotId && n.Rule == rule && n.Output == output && n.Pass == pass)
            .ExecuteDeleteAsync(cancel);
    }

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
    public async Task<CrateRow> AddCrateAsync(int shotId, string layout, string by, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        var crate = new CrateRow
        {
            ShotId = shotId,
            Layout = layout,
            By = by,
            SealId = Guid.NewGuid(),
            State = JobState.Queued,
            Asked = DateTime.UtcNow,
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

    /// <summary>Every shot of every show in a few words, by show and code, with the keys of what its state is worked out from: one query.</summary>
    public async Task<List<YardRow>> YardAsync(CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        return await context
            .Shots.AsNoTracking()
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
                Crates = context.Crates.Count(c => c.ShotId == s.Id),
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
