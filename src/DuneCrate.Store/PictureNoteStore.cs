using DuneCrate.Foundation.History;
using DuneCrate.Foundation.Time;
using DuneCrate.Imaging.Pictures.Notes;
using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;

namespace DuneCrate.Store;

/// <summary>Notes on pictures. Safe to call from several threads.</summary>
public sealed class PictureNoteStore(IDbContextFactory<DuneCrateContext> contexts, HistoryStore history, TimeProvider clock)
{
    /// <summary>The notes on pictures of a shot with their keys, by frame and age.</summary>
    public async Task<List<(int Id, PictureNote Note)>> PictureNotesAsync(int shotId, CancellationToken cancel = default)
    {
        await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
        List<PictureNoteRow> rows = await context
            .PictureNotes.AsNoTracking()
            .Where(n => n.ShotId == shotId)
            .OrderBy(n => n.Frame)
            .ThenBy(n => n.Id)
            .ToListAsync(cancel);
        return [.. rows.Select(r => (r.Id, ToNote(r)))];
    }

    /// <summary>Adds a note, and says so of its shot.</summary>
    /// <returns>Its key.</returns>
    public async Task<int> AddPictureNoteAsync(int shotId, PictureNote note, AuditEvent? audited = null, CancellationToken cancel = default)
    {
        var row = new PictureNoteRow
        {
            ShotId = shotId,
            Layer = note.Layer,
            Pass = note.Pass,
            Frame = note.Frame,
            Shape = note.Shape,
            X = note.X,
            Y = note.Y,
            EndX = note.EndX,
            EndY = note.EndY,
            Words = note.Words,
            By = note.By,
            At = note.At,
            AnswersJson = NoteAnswer.Write(note.Answers),
            SettledBy = note.SettledBy,
            SettledAt = note.SettledAt,
        };
        await history.ChangeAsync(
            async (context, stop) =>
            {
                context.PictureNotes.Add(row);
                await ShowStore.NoteAsync(context, shotId, $"note on {note.Layer} {note.Pass} by {note.By}", clock.UtcNow, stop);
            },
            audited,
            cancel
        );
        return row.Id;
    }

    /// <summary>Adds an answer to a note.</summary>
    /// <returns>False when there is no such note.</returns>
    public Task<bool> AnswerPictureNoteAsync(
        int shotId,
        int id,
        NoteAnswer answer,
        AuditEvent? audited = null,
        CancellationToken cancel = default
    ) => ChangeAsync(shotId, id, row => row.AnswersJson = NoteAnswer.Write(ToNote(row).Answers.Add(answer)), audited, cancel);

    /// <summary>Settles a note, or opens it again.</summary>
    /// <param name="shotId">The shot.</param>
    /// <param name="id">The note.</param>
    /// <param name="by">Who settles it; null to open it again.</param>
    /// <param name="audited">What the history says of it.</param>
    /// <param name="cancel">Leaves.</param>
    /// <returns>False when there is no such note.</returns>
    public Task<bool> SettlePictureNoteAsync(
        int shotId,
        int id,
        string? by,
        AuditEvent? audited = null,
        CancellationToken cancel = default
    ) => ChangeAsync(shotId, id, row => (row.SettledBy, row.SettledAt) = (by, by is null ? null : clock.UtcNow), audited, cancel);

    private Task<bool> ChangeAsync(int shotId, int id, Action<PictureNoteRow> change, AuditEvent? audited, CancellationToken cancel) =>
        history.TryChangeAsync(
            async (context, stop) =>
            {
                if (await context.PictureNotes.FirstOrDefaultAsync(n => n.ShotId == shotId && n.Id == id, stop) is not { } row)
                {
                    return false;
                }

                change(row);
                return true;
            },
            audited,
            cancel
        );

    private static PictureNote ToNote(PictureNoteRow row) =>
        new(row.Layer, row.Pass, row.Frame, row.Shape, row.X, row.Y, row.EndX, row.EndY, row.Words, row.By, row.At)
        {
            Answers = NoteAnswer.Read(row.AnswersJson),
            SettledBy = row.SettledBy,
            SettledAt = row.SettledAt,
        };
}
