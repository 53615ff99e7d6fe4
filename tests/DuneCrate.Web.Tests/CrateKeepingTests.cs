using System.Net;
using DuneCrate.Checking.Reports;
using DuneCrate.Crates;
using DuneCrate.Crates.Events;
using DuneCrate.Crates.Recipes;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Storage;
using DuneCrate.Planning.Model;
using DuneCrate.Shots.Crating;
using DuneCrate.Shots.Notifications;
using DuneCrate.Shots.Views;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Stations.Upkeep;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Options;

namespace DuneCrate.Web.Tests;

/// <summary>Crates that are chosen, put off, sent, sent back, superseded and deleted.</summary>
public class CrateKeepingTests(AppFixture app) : IClassFixture<AppFixture>
{
    [Fact]
    public async Task What_is_chosen_for_one_crate_stands_in_the_address_and_goes_into_it()
    {
        await app.AddShotAsync("CK010");
        await app.CheckAsync("CK010");
        string page = WebUtility.HtmlDecode(await app.GetAsync("/KELP/CK010/crate?frames=1002-1003&layers=sub"));
        Assert.Contains("not among the frames that are wanted", page);
        Assert.Contains("Shot in file names", page);
        string named = WebUtility.HtmlDecode(await app.GetAsync("/KELP/CK010/crate?named=shot"));
        Assert.Contains("/CK010_sub", named);
        Assert.Contains("Not as it was chosen", await app.GetAsync("/KELP/CK010/crate?window=round"));
        Assert.Contains("there is no compression", await app.GetAsync("/KELP/CK010/crate?compression=sand"));
        string savings = await app.GetAsync("/KELP/CK010/crate?handler=Savings");
        Assert.Contains("data-saving=", savings);

        await app.PostAsync("/KELP/CK010/crate?frames=1002-1003", "&handler=Seal", ("by", "Ada Reed"));
        await app.UntilAsync("/KELP/CK010/crate", text => text.Contains("Whole, read back", StringComparison.Ordinal));
        CrateRow crate = (await CratesAsync("CK010"))[0];
        Assert.Equal("1002-1003", CrateVerifier.ManifestOf(FolderOf(crate))!.Frames.ToString());
    }

    [Fact]
    public async Task A_sealing_that_is_put_off_goes_on_or_is_given_up()
    {
        await app.AddShotAsync("CK020");
        await app.CheckAsync("CK020");
        ShotRow shot = (await app.Service<ShowStore>().ShotAsync("KELP", "CK020"))!;
        var work = app.Service<CrateQueue>();
        async Task<CrateRow> PausedAsync()
        {
            int id = await work.SealAsync(shot.Id, CrateLayouts.ByLayer, "Ada Reed");
            work.Pause(id);
            await app.UntilAsync("/KELP/CK020/crate", text => text.Contains("What was written so far is kept", StringComparison.Ordinal));
            return (await CratesAsync("CK020")).Single(c => c.Id == id);
        }

        CrateRow crate = await PausedAsync();
        Assert.Equal(JobState.Paused, crate.State);
        await app.PostAsync("/KELP/CK020/crate", "?handler=Resume", ("id", $"{crate.Id}"));
        await app.UntilAsync("/KELP/CK020/crate", text => text.Contains("Whole, read back", StringComparison.Ordinal));

        crate = await PausedAsync();
        await app.PostAsync("/KELP/CK020/crate", "?handler=Stop", ("id", $"{crate.Id}"));
        Assert.Contains("Nothing is left of it", await app.GetAsync("/KELP/CK020/crate"));
        Assert.Single((await CratesAsync("CK020")), c => c.State == JobState.Done);
    }

    [Fact]
    public async Task What_is_sent_back_is_a_finding_and_to_be_rendered_again_until_a_crate_answers_it()
    {
        CrateRow crate = await SealForTideRoomAsync("CK030");
        string handed = $"/KELP/CK030/crates/{crate.Id}";
        app.Service<IOptionsMonitor<NotificationOptions>>().CurrentValue.Program = "/bin/cat";
        await app.PostAsync(
            handed,
            "?handler=SendBack",
            ("what", "sub|direct_diffuse"),
            ("frames", "1002"),
            ("words", "the bow flickers"),
            ("by", "Cosima Vale")
        );
        app.Service<IOptionsMonitor<NotificationOptions>>().CurrentValue.Program = null;
        await using (DuneCrateContext context = await app.Service<IDbContextFactory<DuneCrateContext>>().CreateDbContextAsync())
        {
            LetterRow letter = await context.Letters.SingleAsync();
            Assert.Equal("", Schemas.Complaint(Path.Combine(app.Renders, "event.json"), "event", letter.Document));
            Assert.Contains("CK030_crate_v001 sent back: sub direct_diffuse 1002: the bow flickers", letter.Document);
        }

        string check = WebUtility.HtmlDecode(await app.GetAsync("/KELP/CK030/check"));
        Assert.Contains("Sent back by the receiver", check);
        Assert.Contains("Cosima Vale sent CK030_crate_v001 back: the bow flickers.", check);
        ShotView view = (await app.Service<ShotViews>().ViewAsync("KELP", "CK030", Selection.None, default))!;
        Assert.Equal([new RerunEntry("sub", FrameSet.Single(1002))], view.Report!.Rerun.AsEnumerable());

        await SealForTideRoomAsync("CK030");
        Assert.DoesNotContain("Sent back by the receiver", await app.GetAsync("/KELP/CK030/check"));
        Assert.Equal(["checked", "made", "sent back", "superseded"], CrateHistory.Of(FolderOf(crate)).Events.Select(e => e.Did));

        // The first is superseded: its files can go, by hand or by policy, and its history stays.
        Assert.Contains("superseded by CK030_crate_v002", await app.GetAsync("/KELP/CK030/crate"));
        StoragePath folder = FolderOf(crate);
        await app.PostAsync("/KELP/CK030/crate", "?handler=Forget", ("id", $"{crate.Id}"));
        Assert.False(folder.IsThere);
        Assert.True(CrateHistory.Beside(folder).IsFile);
        Assert.Contains("CK030_crate_v002 stands in its", WebUtility.HtmlDecode(await app.GetAsync("/KELP/CK030/crate")));
        CrateRow newer = (await CratesAsync("CK030"))[0];
        await app.PostAsync("/KELP/CK030/crate", "?handler=Forget", ("id", $"{newer.Id}"));
        Assert.True(FolderOf(newer).IsFolder);

        await SealForTideRoomAsync("CK030");
        var store = app.Service<ShowStore>();
        await app.Service<UpkeepStore>().SaveUpkeepAsync(new UpkeepRow { SupersededDays = 1 });
        Assert.Equal(0, (await app.Service<UpkeepService>().TidyAsync(default)).Crates);
        await app.Service<CrateStore>().ChangeCrateAsync((await CratesAsync("CK030"))[0].Id, c => c.Ended = DateTime.UtcNow.AddDays(-2));
        Assert.Equal(1, (await app.Service<UpkeepService>().TidyAsync(default)).Crates);
        Assert.False(FolderOf(newer).IsThere);
        await app.Service<UpkeepStore>().SaveUpkeepAsync(new UpkeepRow());
    }

    [Theory]
    [InlineData("BreaksOff", "received", "further tries")]
    [InlineData("Damages", "received", "further tries")]
    [InlineData("None", "received", "hold there")]
    [InlineData("Silent", "handed", "does not answer. 0 of")]
    public async Task A_crate_arrives_at_a_drop_box_with_a_receipt_whatever_goes_wrong_on_the_way(string fault, string did, string what)
    {
        string code = $"CK05{fault.Length}";
        CrateRow crate = await SealForTideRoomAsync(code);
        await app.PostAsync($"/KELP/{code}/crate", "?handler=Send", ("id", $"{crate.Id}"), ("fault", fault));
        await app.UntilAsync($"/KELP/{code}/crates/{crate.Id}", text => text.Contains($"data-did=\"{did}\"", StringComparison.Ordinal));
        CrateEvent last = CrateHistory.Of(FolderOf(crate)).Events[^1];
        Assert.Equal(did, last.Did);
        Assert.Contains(what, last.What, StringComparison.Ordinal);
        string box = Path.Combine(app.Data, "drop-box", "tide_room");
        Assert.Equal(did == "received", File.Exists(Path.Combine(box, $"{crate.Name}.receipt.json")));
        if (did == "received")
        {
            string receipt = await File.ReadAllTextAsync(Path.Combine(box, $"{crate.Name}.receipt.json"));
            Assert.Equal("", Schemas.Complaint(Path.Combine(app.Data, "receipt.json"), "receipt", receipt));
            Assert.Equal("", Tool.RunAny("sh", "-c", $"cd {Path.Combine(box, crate.Name!)} && sha256sum -c --quiet SHA256SUMS"));
        }
    }

    [Fact]
    public async Task A_show_can_wait_for_its_preflight_list()
    {
        await app.AddShotAsync("CK040");
        await app.CheckAsync("CK040");
        var store = app.Service<ShowStore>();
        ShowRow show = (await store.ShowNamesAsync()).Single(s => s.Code == "KELP");
        var plans = app.Service<PlanStore>();
        var settings = ShowPlan.ReadKept(show.SettingsJson, show.Code, show.Name);
        await plans.SaveShowAsync(show.Id, settings with { PreflightSeals = true }, show.FrameRate, show.Width, show.Height);
        try
        {
            Assert.Contains("this show seals nothing before", WebUtility.HtmlDecode(await app.GetAsync("/KELP/CK040/crate")));
            await app.PostAsync("/KELP/CK040/crate", "?handler=Seal", ("by", "Ada Reed"));
            Assert.Empty(await CratesAsync("CK040"));
        }
        finally
        {
            await plans.SaveShowAsync(show.Id, settings, show.FrameRate, show.Width, show.Height);
        }
    }

    private async Task<CrateRow> SealForTideRoomAsync(string code)
    {
        var store = app.Service<ShowStore>();
        if (await store.ShotAsync("KELP", code) is null)
        {
            await app.AddShotAsync(code);
            await app.CheckAsync(code);
        }

        ShotRow shot = (await store.ShotAsync("KELP", code))!;
        ReceiverRow? receiver = (await app.Service<ReceiverStore>().ReceiversAsync("KELP")).Find(r => r.Name == "Tide Room");
        if (receiver is null)
        {
            receiver = new ReceiverRow
            {
                ShowId = shot.ShowId,
                Name = "Tide Room",
                Recipe = new CrateRecipe { Receiver = "Tide Room" }.Write(),
            };
            await app.Service<ReceiverStore>().SaveReceiverAsync(receiver);
        }

        int id = await app.Service<CrateQueue>().SealAsync(shot.Id, CrateLayouts.ByLayer, "Ada Reed", receiver);
        await app.UntilAsync(
            $"/KELP/{code}/crate",
            text => !text.Contains("being sealed<", StringComparison.Ordinal) && text.Contains("Whole, read back", StringComparison.Ordinal)
        );
        return (await app.Service<CrateStore>().CrateAsync(shot.Id, id))!;
    }

    private async Task<List<CrateRow>> CratesAsync(string code)
    {
        var store = app.Service<ShowStore>();
        return await app.Service<CrateStore>().CratesAsync((await store.ShotAsync("KELP", code))!.Id);
    }

    private static StoragePath FolderOf(CrateRow crate) => StorageRoot.At(Path.GetDirectoryName(crate.Path!)!).Top.At(crate.Name!);
}
