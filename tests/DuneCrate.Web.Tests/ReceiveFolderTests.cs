using DuneCrate.Planning.Model;
using DuneCrate.Store;
using DuneCrate.Store.Rows;

namespace DuneCrate.Web.Tests;

/// <summary>Receive over HTTP: which folder is meant, folders to browse, the preflight list as a gate.</summary>
public sealed class ReceiveFolderTests(AppFixture app) : IClassFixture<AppFixture>
{
    [Fact]
    public async Task An_empty_folder_field_is_asked_about()
    {
        await app.AddShotAsync("RF010");
        (string page, _) = await app.PostAsync(
            "/KELP/RF010/receive",
            "?handler=Take",
            ("root", "renders"),
            ("folder", " "),
            ("pixels", "false")
        );
        Assert.Contains("No folder is named", page);
        Assert.Contains("All of renders is meant", page);
        (_, Uri address) = await app.PostAsync(
            "/KELP/RF010/receive",
            "?handler=Take",
            ("root", "renders"),
            ("folder", ""),
            ("pixels", "false"),
            ("whole", "true")
        );
        Assert.DoesNotContain("handler", address.Query);
    }

    [Fact]
    public async Task Folders_are_browsed_below_their_root_and_not_above()
    {
        await app.AddShotAsync("RF020");
        string top = await app.GetAsync("/KELP/RF020/receive?handler=Folders&root=renders&at=");
        Assert.Contains("RF020/", top);
        string below = await app.GetAsync("/KELP/RF020/receive?handler=Folders&root=renders&at=RF020");
        Assert.Contains("sub/", below);
        Assert.Contains("Up a folder", below);
        string above = await app.GetAsync("/KELP/RF020/receive?handler=Folders&root=renders&at=../..");
        Assert.Contains("class=\"wrong\"", above);
        Assert.DoesNotContain("data/", above);
    }

    [Fact]
    public async Task A_show_can_send_nothing_to_the_farm_before_its_preflight_list_is_confirmed()
    {
        await app.AddShotAsync("RF030");
        await app.CheckAsync("RF030");
        ShowRow show = (await app.Service<ShowStore>().ShowNamesAsync(default)).Single(s => s.Code == "KELP");
        Plan plan = await app.PlanAsync("RF030");
        await app.Service<PlanStore>()
            .SaveShowAsync(show.Id, plan.Show with { PreflightGate = true }, show.FrameRate, show.Width, show.Height);
        (string page, _) = await app.PostAsync("/KELP/RF030/receive", "?handler=Send", ("frames", "1001"), ("seconds", "0"));
        Assert.Contains("not confirmed, and this show sends nothing", page);
        await app.Service<PlanStore>().SaveShowAsync(show.Id, plan.Show, show.FrameRate, show.Width, show.Height);
        (page, _) = await app.PostAsync("/KELP/RF030/receive", "?handler=Send", ("frames", "1001"), ("seconds", "0"));
        Assert.DoesNotContain("not confirmed, and this show", page);
    }
}
