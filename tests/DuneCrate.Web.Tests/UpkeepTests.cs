using DuneCrate.Checking.Intake;
using DuneCrate.Imaging.Listing;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;

namespace DuneCrate.Web.Tests;

/// <summary>
/// What can be made anew is kept as long as people say, and no longer. Source: OWASP Application Security Verification Standard 4.0.3,
/// V8.3.8 (retention).
/// </summary>
public class UpkeepTests(AppFixture app) : IClassFixture<AppFixture>
{
    [Fact]
    public async Task Checks_beyond_those_that_are_kept_are_dropped_and_crates_and_plans_are_not()
    {
        await app.AddShotAsync("UP010");
        ShowStore store = app.Service<ShowStore>();
        CheckStore checkStore = app.Service<CheckStore>();
        CrateStore crateStore = app.Service<CrateStore>();
        ShotRow shot = (await store.ShotAsync("KELP", "UP010"))!;
        for (int i = 0; i < 6; i++)
        {
            CheckRow check = await checkStore.AddCheckAsync(shot.Id, pixels: false);
            await checkStore.SetCheckAsync(check.Id, JobState.Done, 0);
        }

        CheckRow waiting = await checkStore.AddCheckAsync(shot.Id, pixels: true);
        CrateRow crate = await crateStore.AddCrateAsync(shot.Id, "layers", "Ada Reed");
        await app.PostAsync("/upkeep", "?handler=Save", ("checks", "2"), ("days", "30"));
        (string text, _) = await app.PostAsync("/upkeep", "?handler=Tidy");
        Assert.Contains("4 checks, the facts of 0 files and 0 superseded crates were dropped", text);
        Assert.Equal(2, (await checkStore.FinishedChecksAsync(shot.Id)).Count);
        Assert.Equal(waiting.Id, (await checkStore.NewestCheckAsync(shot.Id))!.Id);
        Assert.NotNull(await crateStore.CrateAsync(shot.Id, crate.Id));
        (text, _) = await app.PostAsync("/upkeep", "?handler=Tidy");
        Assert.Contains("Nothing was old enough to drop", text);
        await checkStore.SetCheckAsync(waiting.Id, JobState.Stopped);
    }

    [Fact]
    public async Task Facts_of_folders_that_nobody_asks_for_are_dropped_and_the_others_kept()
    {
        FactsStore facts = app.Service<FactsStore>();
        var header = new FactsRequest(FactsDepth.Header);
        IntakeFile old = File("/upkeep/old/a.0001.exr"),
            used = File("/upkeep/used/a.0001.exr");
        facts.Keep(
            old,
            header,
            new FileFacts
            {
                Path = old.Path,
                Format = "exr",
                Readable = true,
            }
        );
        facts.Keep(
            used,
            header,
            new FileFacts
            {
                Path = used.Path,
                Format = "exr",
                Readable = true,
            }
        );
        facts.Flush();
        await using (DuneCrateContext context = await app.Service<IDbContextFactory<DuneCrateContext>>().CreateDbContextAsync())
        {
            await context.FactFolders.Where(f => f.Path == "/upkeep/old").ExecuteUpdateAsync(f => f.SetProperty(x => x.Seen, 100));
        }

        Assert.Equal(1, await facts.ForgetAsync(101, default));
        Assert.Null(facts.Find(old, header));
        Assert.NotNull(facts.Find(used, header));
    }

    [Theory]
    [InlineData("0", "30")]
    [InlineData("many", "30")]
    [InlineData("20", "-1")]
    [InlineData("99999999999", "30")]
    public async Task What_is_no_number_is_told_at_its_field(string checks, string days)
    {
        (string text, _) = await app.PostAsync("/upkeep", "?handler=Save", ("checks", checks), ("days", days));
        Assert.Contains("Write a whole number from 1 to", text);
    }

    private static IntakeFile File(string path) => new(Disk.Place(path), Path.GetFileName(path), 1000, DateTime.UtcNow);
}
