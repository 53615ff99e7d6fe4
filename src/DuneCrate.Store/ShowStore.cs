using DuneCrate.Core.Checks;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Planning;
using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;

namespace DuneCrate.Store;

/// <summary>Shows, shots, checks, waivers and crates: one method per question or change. Safe to call from several threads.</summary>
public sealed class ShowStore(IDbContextFactory<DuneCrateContext> contexts)
{
    /// <summary>Every show with its shots, by code.</summary>
    public async Task<List<ShowRow>> ShowsAsync()
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync();
        return await context.Shows.AsNoTracking().Include(s => s.Shots.OrderBy(x => x.Code)).OrderBy(s => s.Code).ToListAsync();
    }

    /// <summary>A shot with its show, or null.</summary>
    public async Task<ShotRow?> ShotAsync(string show, string shot)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync();
        return await context.Shots.AsNoTracking().Include(s => s.Show).FirstOrDefaultAsync(s => s.Show.Code == show && s.Code == shot);
    }

    /// <summary>A shot with its show by key, or null.</summary>
    public async Task<ShotRow?> ShotAsync(int id)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync();
        return await context.Shots.AsNoTracking().Include(s => s.Show).FirstOrDefaultAsync(s => s.Id == id);
    }

    /// <summary>Adds a show.</summary>
    /// <returns>False when the code is taken.</returns>
    public async Task<bool> AddShowAsync(ShowRow show)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync();
        if (await context.Shows.AnyAsync(s => s.Code.ToLower() == show.Code.ToLower()))
        {
            return false;
        }

        context.Shows.Add(show);
        await context.SaveChangesAsync();
        return true;
    }

    /// <summary>Adds a shot with its plan.</summary>
    /// <returns>The new row, or null when the code is taken or there is no such show.</returns>
    public async Task<ShotRow?> AddShotAsync(string showCode, Plan plan)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync();
        ShowRow? show = await context.Shows.FirstOrDefaultAsync(s => s.Code == showCode);
        if (show is null || await context.Shots.AnyAsync(s => s.ShowId == show.Id && s.Code.ToLower() == plan.Shot.Code.ToLower()))
        {
            return null;
        }

        var shot = new ShotRow { ShowId = show.Id, Code = plan.Shot.Code, PlanJson = PlanDocument.Write(plan), LastEvent = "planned", LastEventAt = DateTime.UtcNow };
        context.Shots.Add(shot);
        await context.SaveChangesAsync();
        context.PlanRevisions.Add(new PlanRevisionRow { ShotId = shot.Id, Revision = 0, Plan = PackedText.Pack(shot.PlanJson), What = "planned", At = shot.LastEventAt });
        await context.SaveChangesAsync();
        return shot;
    }

    /// <summary>Says where a shot's files are.</summary>
    public async Task SetFolderAsync(int shotId, string root, string folder)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync();
        await context.Shots.Where(s => s.Id == shotId).ExecuteUpdateAsync(s => s.SetProperty(x => x.Root, root).SetProperty(x => x.Folder, folder));
    }

    /// <summary>Notes what happened to a shot.</summary>
    public async Task NoteAsync(int shotId, string what)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync();
        await context.Shots.Where(s => s.Id == shotId).ExecuteUpdateAsync(s => s.SetProperty(x => x.LastEvent, what).SetProperty(x => x.LastEventAt, DateTime.UtcNow));
    }

    /// <summary>The newest check of a shot, without its report; or null.</summary>
    public async Task<CheckRow?> NewestCheckAsync(int shotId)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync();
        return await context.Checks.AsNoTracking().Where(c => c.ShotId == shotId).OrderByDescending(c => c.Id)
            .Select(c => new CheckRow { Id = c.Id, ShotId = c.ShotId, State = c.State, Pixels = c.Pixels, Revision = c.Revision, Asked = c.Asked, Ended = c.Ended, Problem = c.Problem }).FirstOrDefaultAsync();
    }

    /// <summary>The newest finished check of a shot, with its report; or null.</summary>
    public async Task<CheckRow?> NewestReportAsync(int shotId)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync();
        return await context.Checks.AsNoTracking().Where(c => c.ShotId == shotId && c.State == WorkState.Done).OrderByDescending(c => c.Id).FirstOrDefaultAsync();
    }

    /// <summary>Key of the newest finished check of a shot, or 0.</summary>
    public async Task<int> NewestReportIdAsync(int shotId)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync();
        return await context.Checks.Where(c => c.ShotId == shotId && c.State == WorkState.Done).MaxAsync(c => (int?)c.Id) ?? 0;
    }

    /// <summary>The finished checks of a shot without their reports, newest first.</summary>
    public async Task<List<CheckRow>> FinishedChecksAsync(int shotId, int most = 50)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync();
        return await context.Checks.AsNoTracking().Where(c => c.ShotId == shotId && c.State == WorkState.Done).OrderByDescending(c => c.Id).Take(most)
            .Select(c => new CheckRow { Id = c.Id, ShotId = c.ShotId, State = c.State, Pixels = c.Pixels, Revision = c.Revision, Asked = c.Asked, Ended = c.Ended }).ToListAsync();
    }

    /// <summary>The report of a finished check, or null.</summary>
    public async Task<CheckReport?> ReportAsync(int checkId)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync();
        byte[]? packed = await context.Checks.Where(c => c.Id == checkId).Select(c => c.Report).FirstOrDefaultAsync();
        return packed is null ? null : System.Text.Json.JsonSerializer.Deserialize<CheckReport>(PackedText.Unpack(packed), DuneCrate.Core.DocumentJson.Options);
    }

    /// <summary>A check without its report, and its shot.</summary>
    public async Task<(CheckRow Check, ShotRow Shot)> CheckWithShotAsync(int id)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync();
        CheckRow check = await context.Checks.AsNoTracking().FirstAsync(c => c.Id == id);
        return (check, await context.Shots.AsNoTracking().Include(s => s.Show).FirstAsync(s => s.Id == check.ShotId));
    }

    /// <summary>Adds a check to be run.</summary>
    public async Task<CheckRow> AddCheckAsync(int shotId, bool pixels, bool byContent = false)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync();
        var check = new CheckRow { ShotId = shotId, Pixels = pixels, ByContent = byContent, State = WorkState.Queued, Asked = DateTime.UtcNow };
        context.Checks.Add(check);
        await context.SaveChangesAsync();
        return check;
    }

    /// <summary>Changes a check's state; with a report when it is done.</summary>
    public async Task SetCheckAsync(int id, WorkState state, int? revision = null, CheckReport? report = null, string? problem = null)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync();
        CheckRow check = await context.Checks.FirstAsync(c => c.Id == id);
        check.State = state;
        check.Revision = revision ?? check.Revision;
        check.Problem = problem;
        check.Ended = state is WorkState.Done or WorkState.Stopped or WorkState.Failed ? DateTime.UtcNow : null;
        check.Report = report is null ? check.Report : PackedText.Pack(report.Write());
        await context.SaveChangesAsync();
    }

    /// <summary>Checks that were waiting or running when the application last ended, oldest first.</summary>
    public async Task<List<CheckRow>> UnfinishedChecksAsync()
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync();
        return await context.Checks.AsNoTracking().Where(c => c.State == WorkState.Queued || c.State == WorkState.Running).OrderBy(c => c.Id).ToListAsync();
    }

    /// <summary>The waivers of a shot, oldest first.</summary>
    public async Task<List<WaiverRow>> WaiversAsync(int shotId)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync();
        return await context.Waivers.AsNoTracking().Where(w => w.ShotId == shotId).OrderBy(w => w.Id).ToListAsync();
    }

    /// <summary>Adds a waiver.</summary>
    public async Task AddWaiverAsync(WaiverRow waiver)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync();
        context.Waivers.Add(waiver);
        await context.SaveChangesAsync();
    }

    /// <summary>Takes a waiver back.</summary>
    public async Task RemoveWaiverAsync(int shotId, int id)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync();
        await context.Waivers.Where(w => w.ShotId == shotId && w.Id == id).ExecuteDeleteAsync();
    }

    /// <summary>A waiver as rules read it.</summary>
    public static Waiver ToWaiver(WaiverRow row) => new()
    {
        Rule = row.Rule,
        Output = row.Output,
        Pass = row.Pass,
        Frames = row.Frames.Length == 0 ? null : FrameSet.Parse(row.Frames),
        By = row.By,
        Reason = row.Reason,
    };

    /// <summary>The findings of a shot that were handed to people, oldest first.</summary>
    public async Task<List<FindingNote>> NotesAsync(int shotId)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync();
        return await context.FindingNotes.AsNoTracking().Where(n => n.ShotId == shotId).OrderBy(n => n.Id)
            .Select(n => new FindingNote(n.Rule, n.Output, n.Pass, n.To, n.By, n.Note, n.At)).ToListAsync();
    }

    /// <summary>Hands a finding to a person; an earlier note about it goes.</summary>
    public async Task HandAsync(int shotId, FindingNote note)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync();
        await context.FindingNotes.Where(n => n.ShotId == shotId && n.Rule == note.Rule && n.Output == note.Output && n.Pass == note.Pass).ExecuteDeleteAsync();
        context.FindingNotes.Add(new FindingNoteRow { ShotId = shotId, Rule = note.Rule, Output = note.Output, Pass = note.Pass, To = note.To, By = note.By, Note = note.Note, At = note.At });
        await context.SaveChangesAsync();
    }

    /// <summary>Takes a finding out of somebody's hands.</summary>
    public async Task TakeBackAsync(int shotId, string rule, string output, string? pass)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync();
        await context.FindingNotes.Where(n => n.ShotId == shotId && n.Rule == rule && n.Output == output && n.Pass == pass).ExecuteDeleteAsync();
    }

    /// <summary>The crates of a shot, newest first.</summary>
    public async Task<List<CrateRow>> CratesAsync(int shotId)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync();
        return await context.Crates.AsNoTracking().Where(c => c.ShotId == shotId).OrderByDescending(c => c.Id).ToListAsync();
    }

    /// <summary>One crate, or null.</summary>
    public async Task<CrateRow?> CrateAsync(int shotId, int id)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync();
        return await context.Crates.AsNoTracking().FirstOrDefaultAsync(c => c.ShotId == shotId && c.Id == id);
    }

    /// <summary>Adds a crate to be sealed.</summary>
    public async Task<CrateRow> AddCrateAsync(int shotId, string layout, string by)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync();
        var crate = new CrateRow { ShotId = shotId, Layout = layout, By = by, State = WorkState.Queued, Asked = DateTime.UtcNow };
        context.Crates.Add(crate);
        await context.SaveChangesAsync();
        return crate;
    }

    /// <summary>Changes a crate.</summary>
    public async Task ChangeCrateAsync(int id, Action<CrateRow> change)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync();
        CrateRow crate = await context.Crates.FirstAsync(c => c.Id == id);
        change(crate);
        await context.SaveChangesAsync();
    }

    /// <summary>Ends crates that were being sealed when the application last ended: a killed sealing leaves nothing behind.</summary>
    public async Task EndUnfinishedCratesAsync()
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync();
        await context.Crates.Where(c => c.State == WorkState.Queued || c.State == WorkState.Running).ExecuteUpdateAsync(c => c
            .SetProperty(x => x.State, WorkState.Stopped).SetProperty(x => x.Ended, DateTime.UtcNow)
            .SetProperty(x => x.Problem, "The application ended while this crate was being sealed. Nothing was left behind; seal it again."));
    }
}
