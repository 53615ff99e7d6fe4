using System.Net;
using System.Text;
using System.Text.Json.Nodes;
using DuneCrate.Crates;
using DuneCrate.Crates.Describing;
using DuneCrate.Shots.Crating;
using DuneCrate.StandIns.Renderer;
using DuneCrate.Store;
using DuneCrate.Store.Rows;

namespace DuneCrate.Web.Tests;

/// <summary>Scene helpers: brought, chosen, seen over the picture, sealed, changed elsewhere and brought back.</summary>
public class SceneHelperPagesTests(AppFixture app) : IClassFixture<AppFixture>
{
    private const string Page = "/KELP/SH010/crate/helpers";

    [Fact]
    public async Task Helpers_are_brought_checked_seen_and_sealed_and_changes_come_back_as_offsets()
    {
        await app.AddShotAsync("SH010");
        await app.CheckAsync("SH010");
        string table = KelpHelpers.Write(HelperShots.Of(await app.PlanAsync("SH010"))!);
        Assert.Contains("needs a line of heads", await UploadAsync("Take", "helpers.csv", "sand"));
        Assert.Contains("no glTF 2.0 file that can be read", await UploadAsync("Take", "helpers.glb", "sand"));
        string page = await UploadAsync("Take", "helpers.csv", table);
        Assert.Contains("dome_centre", page);
        Assert.DoesNotContain("data-problem", page);

        // The lamp is where the picture is brightest.
        JsonArray marks = JsonNode.Parse(await app.GetAsync("/KELP/SH010/scene-marks?frame=1002"))!.AsArray();
        JsonNode lamp = marks.Single(m => (string?)m!["name"] == "lamp_centre")!;
        Assert.InRange((double)lamp["x"]!, 1, 319);
        Assert.Contains("id=\"locators\"", await app.GetAsync("/KELP/SH010/look"));

        await app.PostAsync(Page, "?handler=Choose", ("name", "cam_main"), ("name", "mist_card"));
        byte[] scene = await app.Client.GetByteArrayAsync($"{Page}?handler=Scene");
        Assert.Equal("glTF", Encoding.ASCII.GetString(scene[..4]));

        string given = await app.GetAsync($"{Page}?handler=Table");
        string moved = string.Join(
            '\n',
            given.Split('\n').Select(l => l.StartsWith(",mist_card,plane,0,1.5,", StringComparison.Ordinal) ? l.Replace(",1.5,", ",2,") : l)
        );
        Assert.NotEqual(given, moved);
        page = await UploadAsync("Back", "helpers.csv", moved);
        Assert.Contains("1 helper differs from the original now", page);
        Assert.Contains("moved by up to 0.5 m", page);
        page = await UploadAsync("Back", "helpers.csv", moved);
        Assert.Contains("moved by up to 0.5 m", page);

        ShotRow shot = (await app.Service<ShowStore>().ShotAsync("KELP", "SH010"))!;
        await app.Service<CrateQueue>().SealAsync(shot.Id, CrateLayouts.ByLayer, "Ada Reed");
        await app.UntilAsync("/KELP/SH010/crate", text => text.Contains("Whole, read back", StringComparison.Ordinal));
        CrateRow crate = (await app.Service<CrateStore>().CratesAsync(shot.Id))[0];
        Assert.Equal(
            "",
            Schemas.Complaint(
                Path.Combine(app.Data, "crate.json"),
                "crate",
                await File.ReadAllTextAsync(Path.Combine(crate.Path!, "crate.json"))
            )
        );
        string sealedTable = await File.ReadAllTextAsync(Path.Combine(crate.Path!, "helpers.csv"));
        Assert.Contains(",mist_card,plane,0,2,", sealedTable);
        Assert.DoesNotContain("dome_centre", sealedTable);
        Tool.Run(
            "node",
            Repository.File("tests/DuneCrate.Planning.Tests/Scene/validate-gltf.cjs"),
            Path.Combine(crate.Path!, "helpers.glb")
        );

        await app.PostAsync(Page, "?handler=Undo", ("name", "mist_card"));
        Assert.DoesNotContain("moved by up to", await app.GetAsync(Page));
        await app.PostAsync(Page, "?handler=Clear");
        Assert.Contains("None yet", await app.GetAsync(Page));
    }

    private async Task<string> UploadAsync(string handler, string name, string content)
    {
        string token = WebUtility.HtmlDecode(
            (await app.Client.GetStringAsync(Page)).Split("__RequestVerificationToken\" type=\"hidden\" value=\"")[1].Split('"')[0]
        );
        using var form = new MultipartFormDataContent
        {
            { new ByteArrayContent(Encoding.UTF8.GetBytes(content)), "file", name },
            { new StringContent(token), "__RequestVerificationToken" },
        };
        using HttpResponseMessage answer = await app.Client.PostAsync($"{Page}?handler={handler}", form);
        return WebUtility.HtmlDecode(await answer.Content.ReadAsStringAsync());
    }
}
