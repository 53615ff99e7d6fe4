using System.Net;
using DuneCrate.Foundation.Frames;
using DuneCrate.Planning.Model;
using DuneCrate.Shots.Roots;
using DuneCrate.StandIns.Renderer;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Tests.People;
using Microsoft.Extensions.DependencyInjection;

namespace DuneCrate.Web.Tests;

/// <summary>
/// A wrangler works in the folders of their show and sees no others below the same storage root. Source: OWASP ASVS 5.0, V8.2.2 (access to
/// data is held on the server) and V5.3.2 (paths).
/// </summary>
public sealed class ShowFoldersTests(PeopleFixture app) : IClassFixture<PeopleFixture>
{
    private string At(string path) => Path.Combine(app.Renders, path);

    private void MakeFolders()
    {
        foreach (string folder in (string[])["KP010", "KP010/plates", "REEF/RF010", "shared/plates/sky"])
        {
            Directory.CreateDirectory(At(folder));
        }

        if (!File.Exists(At("REEF/RF010/secret.1001.exr")))
        {
            Tool.Picture(At("REEF/RF010/secret.1001.exr"), "--pattern", "constant:color=0.1,0.2,0.3", "64x36", "3", "-d", "half");
            File.Copy(At("REEF/RF010/secret.1001.exr"), At("KP010/plates/own.1001.exr"));
        }
    }

    private static string Folders(string at) => $"/KELP/KP010/receive?handler=Folders&root=renders&at={Uri.EscapeDataString(at)}";

    [Fact]
    public async Task Only_the_show_s_folders_are_listed()
    {
        MakeFolders();
        using HttpClient mara = await app.AsAsync("wrangler");
        string top = await mara.GetStringAsync(Folders(""));
        Assert.Contains("KP010/", top);
        Assert.DoesNotContain("REEF", top);
        Assert.DoesNotContain("shared", top);
        Assert.Contains("plates/", await mara.GetStringAsync(Folders("KP010")));
        foreach (string outside in (string[])["REEF", "REEF/RF010", "shared", "KP010/../REEF", "../", "KP0100", "kp010"])
        {
            string told = await mara.GetStringAsync(Folders(outside));
            Assert.DoesNotContain("RF010/", told);
            Assert.DoesNotContain("sky/", told);
            Assert.Contains("class=\"wrong\"", told);
        }
    }

    [Theory]
    [InlineData("REEF/RF010")]
    [InlineData("KP010/../REEF/RF010")]
    [InlineData("")]
    [InlineData("shared/plates")]
    public async Task Nothing_outside_is_taken_in(string folder)
    {
        MakeFolders();
        using HttpClient mara = await app.AsAsync("wrangler");
        using HttpResponseMessage answer = await PeopleFixture.PostAsync(
            mara,
            "/KELP/KP010/receive",
            "/KELP/KP010/receive?handler=Take",
            ("root", "renders"),
            ("folder", folder),
            ("whole", "true"),
            ("pixels", "false"),
            ("byContent", "false")
        );
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        Assert.Equal("KP010", (await app.Services.GetRequiredService<ShowStore>().ShotAsync("KELP", "KP010"))!.Folder);
    }

    [Theory]
    [InlineData("/KELP/KP010/stack/composite?handler=Add", "plate", "renders|REEF/RF010/secret.####.exr")]
    [InlineData("/KELP/KP010/stack/composite?handler=Add", "plate", "renders|KP010/../REEF/RF010/secret.####.exr")]
    public async Task No_plate_comes_from_outside(string to, string field, string value)
    {
        MakeFolders();
        using HttpClient mara = await app.AsAsync("wrangler");
        (await PeopleFixture.PostAsync(mara, "/KELP/KP010/look", "/KELP/KP010/stack/composite?handler=New", ("name", "test"))).Dispose();
        using HttpResponseMessage answer = await PeopleFixture.PostAsync(mara, "/KELP/KP010/look", to, (field, value), ("stack", "1"));
        Assert.DoesNotContain(
            "secret",
            string.Join('\n', (await app.Services.GetRequiredService<StackStore>().StacksAsync(1)).Select(s => s.Recipe.Write()))
        );
        string listed = await mara.GetStringAsync("/KELP/KP010/stack/composite?handler=Plates&root=renders&folder=REEF/RF010");
        Assert.DoesNotContain("secret", listed);
    }

    [Fact]
    public async Task A_keeper_grants_more_and_takes_it_back()
    {
        MakeFolders();
        ShowStore store = app.Services.GetRequiredService<ShowStore>();
        ShowRow kelp = (await store.ShowNamesAsync()).First(s => s.Code == "KELP");
        using HttpClient mara = await app.AsAsync("wrangler"),
            keeper = await app.AsAsync("keeper");
        (string, string)[] fields = [("root", "renders"), ("folder", "shared/plates")];
        using HttpResponseMessage refused = await PeopleFixture.PostAsync(mara, "/KELP/settings", "/KELP/settings?handler=Grant", fields);
        Assert.Equal(HttpStatusCode.Forbidden, refused.StatusCode);
        (await PeopleFixture.PostAsync(keeper, "/KELP/settings", "/KELP/settings?handler=Grant", fields)).Dispose();
        Assert.Contains("sky/", await mara.GetStringAsync(Folders("shared/plates")));
        Assert.Contains("shared/", await mara.GetStringAsync(Folders("")));
        Assert.Contains("plates/", await mara.GetStringAsync(Folders("shared")));
        ShowFolderRow granted = (await app.Services.GetRequiredService<ShowFolderStore>().ListAsync(kelp.Id)).Single(f =>
            f.Folder == "shared/plates"
        );
        (
            await PeopleFixture.PostAsync(
                keeper,
                "/KELP/settings",
                "/KELP/settings?handler=TakeBack",
                ("id", granted.Id.ToString(System.Globalization.CultureInfo.InvariantCulture))
            )
        ).Dispose();
        Assert.DoesNotContain("sky/", await mara.GetStringAsync(Folders("shared/plates")));
        Assert.Contains(
            await app.HistoryAsync(),
            e => e.Subject == "folders of KELP" && e.After == "renders/shared/plates belongs to it" && e.Who == "Kit Marlow"
        );
    }

    /// <summary>A keeper may go anywhere below the roots; what they take in belongs to the show.</summary>
    [Fact]
    public async Task What_a_keeper_takes_in_belongs_to_the_show()
    {
        MakeFolders();
        ShowStore store = app.Services.GetRequiredService<ShowStore>();
        ShotRow shot = (await store.AddShotAsync("REEF", StandInPlan.Create("RF010", FrameSet.Parse("1001"), 64, 36)))!;
        using HttpClient keeper = await app.AsAsync("keeper");
        (
            await PeopleFixture.PostAsync(
                keeper,
                "/REEF/RF010/receive",
                "/REEF/RF010/receive?handler=Take",
                ("root", "renders"),
                ("folder", "REEF/RF010"),
                ("pixels", "false"),
                ("byContent", "false"),
                ("whole", "false")
            )
        ).Dispose();
        ShowRow reef = (await store.ShowNamesAsync()).First(s => s.Code == "REEF");
        ShowGround ground = await app.Services.GetRequiredService<ShowGrounds>().OfAsync(reef);
        Assert.True(ground.Has("renders", "REEF/RF010/deeper"));
        Assert.False(ground.Has("renders", "REEF"));
        Assert.False(ground.Has("renders", "REEF/RF0100"));
        Assert.False(ground.Has("crates", "REEF/RF010"));
        Assert.NotEqual(0, shot.Id);
    }

    /// <summary>Whoever may not change a show does not change it by a plan either.</summary>
    [Fact]
    public async Task Importing_a_plan_does_not_change_the_show_for_a_lighter()
    {
        Plan plan = StandInPlan.Create("KP070", FrameSet.Parse("1001-1002"), 64, 36);
        string json = PlanDocument.Write(
            plan with
            {
                Show = plan.Show with { Aliases = new OrderedDictionary<string, string> { ["barnacle"] = "emission" } },
            }
        );
        ShowStore store = app.Services.GetRequiredService<ShowStore>();
        string? before = (await store.ShowNamesAsync()).First(s => s.Code == "KELP").SettingsJson;
        using HttpClient lior = await app.AsAsync("lighter"),
            mara = await app.AsAsync("wrangler");
        using HttpResponseMessage refused = await PeopleFixture.PostAsync(
            lior,
            "/KELP/new-shot",
            "/KELP/new-shot?handler=Import",
            ("Json", json)
        );
        Assert.Contains("your role does not change the show", await PeopleFixture.TextAsync(refused));
        Assert.Equal(before, (await store.ShowNamesAsync()).First(s => s.Code == "KELP").SettingsJson);
        Assert.Null(await store.ShotAsync("KELP", "KP070"));
        using HttpResponseMessage done = await PeopleFixture.PostAsync(
            mara,
            "/KELP/new-shot",
            "/KELP/new-shot?handler=Import",
            ("Json", json)
        );
        Assert.Equal("/KELP/KP070/plan", done.Headers.Location?.ToString());
        Assert.Contains("barnacle", (await store.ShowNamesAsync()).First(s => s.Code == "KELP").SettingsJson);
    }
}
