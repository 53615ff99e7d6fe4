using DuneCrate.Imaging.Pictures.Notes;
using DuneCrate.Store;

namespace DuneCrate.Web.Tests;

/// <summary>Notes on pictures are kept, answered, settled and go into the slip.</summary>
public sealed class PictureNoteTests(AppFixture app) : IClassFixture<AppFixture>
{
    private const string Look = "/look?layer=sub&pass=beauty&frame=1002";

    private static (string, string)[] Box(string words, string by = "Ada Reed", string shape = "box") =>
        [("shape", shape), ("x", "4"), ("y", "5"), ("endX", "13"), ("endY", "9"), ("at", "1002"), ("words", words), ("by", by)];

    private async Task<List<(int Id, PictureNote Note)>> NotesAsync(string code) =>
        await app.Service<PictureNoteStore>().PictureNotesAsync((await app.Service<ShowStore>().ShotAsync("KELP", code))!.Id);

    [Fact]
    public async Task A_note_is_kept_answered_settled_and_carried_into_the_slip()
    {
        await app.AddShotAsync("NT010");
        await app.CheckAsync("NT010");
        Assert.Contains("No notes yet", await app.GetAsync("/KELP/NT010" + Look));
        (string kept, _) = await app.PostAsync("/KELP/NT010" + Look, "&handler=Note", Box("Is this <b>noise</b> or weed?"));
        Assert.Contains("box 10 × 5 at 4, 5", kept);
        (int id, PictureNote note) = Assert.Single(await NotesAsync("NT010"));
        Assert.Equal(
            ("sub", "beauty", 1002, NoteShape.Box, "Is this <b>noise</b> or weed?", "Ada Reed"),
            (note.Layer, note.Pass, note.Frame, note.Shape, note.Words, note.By)
        );
        Assert.DoesNotContain("<b>noise</b>", await app.Client.GetStringAsync("/KELP/NT010" + Look));

        await app.PostAsync("/KELP/NT010" + Look, "&handler=Answer", ("id", $"{id}"), ("by", "Ben"), ("words", "Weed."));
        await app.PostAsync("/KELP/NT010" + Look, "&handler=Answer", ("id", $"{id}"), ("by", "Ada Reed"), ("settle", "on"));
        note = Assert.Single(await NotesAsync("NT010")).Note;
        Assert.Equal(("Weed.", "Ben"), (Assert.Single(note.Answers).Words, note.Answers[0].By));
        Assert.Equal("Ada Reed", note.SettledBy);
        Assert.Contains("Settled", await app.GetAsync("/KELP/NT010" + Look));
        await app.PostAsync("/KELP/NT010" + Look, "&handler=Answer", ("id", $"{id}"), ("by", "Ben"), ("settle", "off"));
        Assert.True(Assert.Single(await NotesAsync("NT010")).Note.IsOpen);

        await app.PostAsync("/KELP/NT010/crate", "?handler=Seal", ("by", "Ada Reed"), ("layout", "layers"));
        await app.UntilAsync("/KELP/NT010/crate", text => text.Contains("Whole, read back"));
        string slip = File.ReadAllText(Path.Combine(app.Crates, "KELP", "NT010", "NT010_crate_v001", "slip.html"));
        Assert.Contains("Notes on pictures", slip);
        Assert.Contains("Is this &lt;b&gt;noise&lt;/b&gt; or weed?", slip);
        Assert.Contains("Weed. (Ben", slip);
    }

    [Fact]
    public async Task What_is_no_note_is_refused_with_a_sentence()
    {
        await app.AddShotAsync("NT020");
        await app.CheckAsync("NT020");
        foreach (
            ((string, string)[] fields, string said) in new[]
            {
                (Box(""), "needs words and a name"),
                (Box("Look here", by: " "), "needs words and a name"),
                (Box("Look here", shape: "cloud"), "does not hold what it should"),
                (Box(new string('x', 100_000)), "The note"),
            }
        )
        {
            (string text, _) = await app.PostAsync("/KELP/NT020" + Look, "&handler=Note", fields);
            Assert.Contains(said, text);
        }

        (string none, _) = await app.PostAsync("/KELP/NT020" + Look, "&handler=Answer", ("id", "77"), ("by", "Ben"), ("words", "?"));
        Assert.Contains("not there any more", none);
        Assert.Empty(await NotesAsync("NT020"));
    }

    [Fact]
    public async Task Answers_that_come_at_once_are_all_kept()
    {
        await app.AddShotAsync("NT030");
        ShowStore store = app.Service<ShowStore>();
        PictureNoteStore pictureNoteStore = app.Service<PictureNoteStore>();
        int shot = (await store.ShotAsync("KELP", "NT030"))!.Id,
            id =
                await pictureNoteStore.AddPictureNoteAsync(
                    shot,
                    new PictureNote("sub", "beauty", 1001, NoteShape.Point, 1, 1, 1, 1, "Here.", "Ada Reed", DateTime.UtcNow)
                );
        await Task.WhenAll(
            Enumerable
                .Range(0, 12)
                .Select(i => pictureNoteStore.AnswerPictureNoteAsync(shot, id, new NoteAnswer($"{i}", "Ben", DateTime.UtcNow)))
        );
        Assert.Equal(12, Assert.Single(await NotesAsync("NT030")).Note.Answers.Select(a => a.Words).Distinct().Count());
        Assert.False(await pictureNoteStore.AnswerPictureNoteAsync(shot, id + 1, new NoteAnswer("?", "Ben", DateTime.UtcNow)));
    }
}
