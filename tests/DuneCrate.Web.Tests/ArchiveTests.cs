using DuneCrate.Store;
using DuneCrate.Store.Rows;
using Microsoft.Extensions.DependencyInjection;

namespace DuneCrate.Web.Tests;

/// <summary>Shots and shows that are put away: into the archive and out of it, or deleted with what is known of them.</summary>
public sealed class ArchiveTests(AppFixture app) : IClassFixture<AppFixture>
{
    private static readonly (string, string)[] Shot =
    [
        ("Frames", "1-4"),
        ("Rate", "24"),
        ("Width", "64"),
        ("Height", "36"),
        ("Camera", "c"),
    ];

    private async Task MakeAsync(string show, params string[] shots)
    {
        await app.PostAsync("/new-show", "", ("Code", show), ("Name", $"Show {show}"), ("Rate", "24"), ("Width", "64"), ("Height", "36"));
        foreach (string shot in shots)
        {
            await app.PostAsync($"/{show}/new-shot", "?handler=Plan", [("Code", shot), .. Shot]);
        }
    }

    /// <summary>A shot in the archive is neither in the yard nor in the summary; its pages open, and it comes back whole.</summary>
    [Fact]
    public async Task Shot_GoesIntoTheArchiveAndOut()
    {
        await MakeAsync("PUTA", "PA010", "PA020");
        await app.PostAsync("/PUTA/PA010/archive", "?handler=Archive", ("on", "true"));
        string yard = await app.GetAsync("/");
        Assert.Contains("1 shot in the archive", yard);
        Assert.DoesNotContain("aria-label=\"Archive or delete PA010\"", yard);
        Assert.Contains("aria-label=\"Archive or delete PA020\"", yard);
        Assert.DoesNotContain("PA010", await app.GetAsync("/PUTA/summary"));
        Assert.Contains("in the archive", await app.GetAsync("/PUTA/PA010/plan"));

        await app.PostAsync("/PUTA/PA010/archive", "?handler=Archive", ("on", "false"));
        Assert.Contains("aria-label=\"Archive or delete PA010\"", await app.GetAsync("/"));
    }

    /// <summary>A show in the archive is named at the yard's end alone.</summary>
    [Fact]
    public async Task Show_GoesIntoTheArchiveAndOut()
    {
        await MakeAsync("PUTB", "PB010");
        await app.PostAsync("/PUTB/archive", "?handler=Archive", ("on", "true"));
        Assert.DoesNotContain("PB010", await app.GetAsync("/"));
        Assert.Contains("Show PUTB", await app.GetAsync("/"));
        await app.PostAsync("/PUTB/archive", "?handler=Archive", ("on", "false"));
        Assert.Contains("PB010", await app.GetAsync("/"));
    }

    /// <summary>Deleting asks for the code, says what goes, takes nothing of another shot and leaves no row behind.</summary>
    [Fact]
    public async Task Deleting_TakesWhatIsKnownOfTheShotAlone()
    {
        await MakeAsync("PUTC", "PC010", "PC020");
        var store = app.Services.GetRequiredService<ShowStore>();
        FindingStore findingStore = app.Services.GetRequiredService<FindingStore>();
        CheckStore checkStore = app.Services.GetRequiredService<CheckStore>();
        ArchiveStore archiveStore = app.Services.GetRequiredService<ArchiveStore>();
        ShotRow doomed = (await store.ShotAsync("PUTC", "PC010"))!,
            other = (await store.ShotAsync("PUTC", "PC020"))!;
        foreach (ShotRow shot in new[] { doomed, other })
        {
            await findingStore.WaiveAsync(
                [
                    new WaiverRow
                    {
                        ShotId = shot.Id,
                        Rule = "frames.gap",
                        Output = "sub",
                        Frames = "1-4",
                        Reason = "held on purpose",
                        By = "Mara",
                        At = DateTime.UtcNow,
                    },
                ],
                []
            );
            await checkStore.AddCheckAsync(shot.Id, pixels: false);
        }

        string page = await app.GetAsync("/PUTC/PC010/archive");
        Assert.Contains("1 waiver", page);
        Assert.Contains("1 check", page);
        (string text, _) = await app.PostAsync("/PUTC/PC010/archive", "?handler=Delete", ("code", "PC020"));
        Assert.Contains("Write PC010 to delete it", text);
        Assert.NotNull(await store.ShotAsync("PUTC", "PC010"));

        await app.PostAsync("/PUTC/PC010/archive", "?handler=Delete", ("code", "PC010"));
        Assert.Null(await store.ShotAsync("PUTC", "PC010"));
        ShotHoldings gone = await archiveStore.HoldingsOfAsync([doomed.Id]),
            kept = await archiveStore.HoldingsOfAsync([other.Id]);
        Assert.Equal((0, 0, 0), (gone.Revisions, gone.Checks, gone.Waivers));
        Assert.Equal((1, 1, 1), (kept.Revisions, kept.Checks, kept.Waivers));

        await app.PostAsync("/PUTC/archive", "?handler=Delete", ("code", "PUTC"));
        Assert.Null(await store.ShotAsync("PUTC", "PC020"));
        Assert.DoesNotContain("PUTC", await app.GetAsync("/"));
    }
}
