using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.History;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Time;
using DuneCrate.Imaging.Pictures.Notes;
using DuneCrate.Planning.Model;
using DuneCrate.Shots.Live;
using DuneCrate.Shots.Views;
using DuneCrate.Store;
using DuneCrate.Web.Access;
using DuneCrate.Web.Stations.Shared;
using Microsoft.AspNetCore.Mvc;

namespace DuneCrate.Web.Stations.Looking;

/// <summary>The Look station: a pass at a frame, how it is shown, a probe over all passes, notes on pictures.</summary>
public sealed class LookModel(
    ShotViews views,
    PictureNoteStore pictureNoteStore,
    HelperStore helperStore,
    ShotEvents events,
    TimeProvider clock
) : ShotPage(views)
{
    private const int MostNotes = 1000,
        MostAnswers = 100;

    /// <inheritdoc/>
    public override string Station => "Look";

    /// <summary>The notes on pictures of the shot, with their keys, by frame.</summary>
    public List<(int Id, PictureNote Note)> Notes { get; private set; } = [];

    /// <summary>Why a note was not kept, or null.</summary>
    public string? NoteProblem { get; private set; }

    /// <summary>Shows the page.</summary>
    public async Task OnGetAsync(CancellationToken cancel)
    {
        Notes = await pictureNoteStore.PictureNotesAsync(View.Row.Id, cancel);
        HasLocators = await helperStore.HelpersAsync(View.Row.Id, cancel) is not null;
    }

    /// <summary>Whether the shot has scene helpers, whose locators can be drawn over the picture.</summary>
    public bool HasLocators { get; private set; }

    /// <summary>Keeps a note that was drawn on the picture.</summary>
    public async Task<IActionResult> OnPostNoteAsync(
        NoteShape shape,
        int x,
        int y,
        int endX,
        int endY,
        int at,
        string? words,
        string? by,
        CancellationToken cancel
    )
    {
        NoteProblem =
            !ModelState.IsValid || View.Selected.Layer is null || View.Selected.Pass is null ? "Draw a box, an arrow or a point first."
            : string.IsNullOrWhiteSpace(words) || string.IsNullOrWhiteSpace(by) ? "A note needs words and a name."
            : TextLimits.Problem("The name", by) ?? TextLimits.Problem("The note", words, TextLimits.NoteLength);
        if (NoteProblem is null && (await pictureNoteStore.PictureNotesAsync(View.Row.Id, cancel)).Count >= MostNotes)
        {
            NoteProblem = $"A shot keeps {MostNotes} notes; settle or answer those that are there.";
        }

        if (NoteProblem is null)
        {
            var note = new PictureNote(
                View.Selected.Layer!,
                View.Selected.Pass!,
                at,
                shape,
                x,
                y,
                endX,
                endY,
                words!.Trim(),
                by!.Trim(),
                clock.UtcNow
            );
            AuditEvent audited = this.Audited(HistoryKinds.Noted, $"{note.Layer} {note.Pass} {note.Frame}", null, note.Words);
            await pictureNoteStore.AddPictureNoteAsync(View.Row.Id, note, audited, cancel);
            events.TellYard();
        }

        return await NotesAsync(cancel);
    }

    /// <summary>Answers a note, settles it, or opens it again.</summary>
    public async Task<IActionResult> OnPostAnswerAsync(int id, string? words, string? by, string? settle, CancellationToken cancel)
    {
        bool isAnswer = !string.IsNullOrWhiteSpace(words);
        PictureNote? note = (await pictureNoteStore.PictureNotesAsync(View.Row.Id, cancel)).FirstOrDefault(n => n.Id == id).Note;
        NoteProblem =
            note is null ? "That note is not there any more."
            : string.IsNullOrWhiteSpace(by) ? "Say who answers."
            : !isAnswer && settle is null ? "Write an answer, or settle the note."
            : isAnswer && note.Answers.Length >= MostAnswers ? $"A note keeps {MostAnswers} answers; settle it and write a new one."
            : TextLimits.Problem("The name", by) ?? TextLimits.Problem("The answer", words, TextLimits.NoteLength);
        if (NoteProblem is null && isAnswer)
        {
            var answer = new NoteAnswer(words!.Trim(), by!.Trim(), clock.UtcNow);
            await pictureNoteStore.AnswerPictureNoteAsync(
                View.Row.Id,
                id,
                answer,
                this.Audited(
                    HistoryKinds.Noted,
                    $"note on {note!.Layer} {note.Pass} {note.Frame}",
                    note.Words,
                    $"answered: {answer.Words}"
                ),
                cancel
            );
        }

        if (NoteProblem is null && settle is not null)
        {
            await pictureNoteStore.SettlePictureNoteAsync(
                View.Row.Id,
                id,
                settle == "on" ? by!.Trim() : null,
                this.Audited(
                    HistoryKinds.Noted,
                    $"note on {note!.Layer} {note.Pass} {note.Frame}",
                    note.IsOpen ? "open" : "settled",
                    settle == "on" ? "settled" : "opened again"
                ),
                cancel
            );
        }

        return await NotesAsync(cancel);
    }

    /// <summary>The list alone for a script, the page for anybody else.</summary>
    private async Task<IActionResult> NotesAsync(CancellationToken cancel)
    {
        Notes = await pictureNoteStore.PictureNotesAsync(View.Row.Id, cancel);
        return Request.Headers.ContainsKey("HX-Request") ? Partial("_Notes", this)
            : NoteProblem is null ? ToStation("look")
            : Page();
    }

    private PassPlan? Planned => View.Output?.Passes.FirstOrDefault(p => p.Pass == View.Selected.Pass);

    private PassDefinition? Definition => View.Plan.Catalogue.Find(View.Selected.Pass ?? "");

    /// <summary>Channels of the selected pass.</summary>
    public IEnumerable<string> Channels => Planned?.Channels.Keys ?? Enumerable.Empty<string>();

    /// <summary>Whether it is shown as direction and length.</summary>
    public bool IsMotion => Definition?.Has(PassMeasures.Motion) == true;

    /// <summary>Whether mattes can be taken out of it by name.</summary>
    public bool IsCryptomatte => Definition?.Has(PassMeasures.Cryptomatte) == true;

    /// <summary>The frames that a finding speaks of, of the file that is looked at.</summary>
    public IEnumerable<int> Told =>
        FrameSet.UnionOf((View.Report?.Findings ?? []).Where(f => f.Output == View.Output?.Key && f.Waived is null).Select(f => f.Frames));

    /// <summary>What sort of pass it is, in words.</summary>
    public string Kind =>
        Definition is { } pass
            ? $"{Words.Choice(pass.Kind)}, "
                + $"{string.Join(" ", Planned?.Channels.Values.Distinct().Select(t => t.Name()) ?? [])}"
                + $"{(pass.IsColour ? ", shown through sRGB" : ", shown without a view transform")}"
            : "";
}
