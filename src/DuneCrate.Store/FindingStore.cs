using DuneCrate.Checking.Findings;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.History;
using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;

namespace DuneCrate.Store;

/// <summary>What people decide about findings: waivers and notes. Safe to call from several threads.</summary>
public sealed class FindingStore(IDbContextFactory<DuneCrateContext> contexts, HistoryStore history)
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
}
