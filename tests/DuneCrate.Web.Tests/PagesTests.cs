using System.Net;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;

namespace DuneCrate.Web.Tests;

/// <summary>Every page over HTTP: what it shows, what it refuses and how it says so.</summary>
public class PagesTests(AppFixture app) : IClassFixture<AppFixture>
{
    private static readonly string[] Stations = ["plan", "receive", "check", "look", "stack", "crate"];

    [Fact]
    public async Task The_yard_leads_to_every_station()
    {
        await app.AddShotAsync("YD010");
        string yard = await app.GetAsync("/");
        Assert.Contains("The Kelp Post", yard);
        foreach (string station in Stations)
        {
            Assert.Contains($"/KELP/YD010/{station}?", yard);
            Assert.Contains("YD010", await app.GetAsync($"/KELP/YD010/{station}"));
        }
    }

    [Fact]
    public async Task An_unknown_shot_is_not_found_in_words()
    {
        foreach (string path in new[] { "/KELP/NOPE/check", "/NOPE/new-shot", "/nowhere" })
        {
            using HttpResponseMessage answer = await app.Client.GetAsync(path);
            Assert.Equal(HttpStatusCode.NotFound, answer.StatusCode);
            Assert.Contains("There is nothing at this address", await answer.Content.ReadAsStringAsync());
        }
    }

    [Theory]
    [InlineData("KE LP", "Kelp", "24", "64", "letters, digits")]
    [InlineData("KELP", "Kelp", "24", "64", "There is a show KELP already")]
    [InlineData("rules", "Kelp", "24", "64", "is an address of the application")]
    [InlineData("NEW", "", "24", "64", "A name is needed")]
    [InlineData("NEW", "Kelp", "soon", "64", "is not a frame rate")]
    [InlineData("NEW", "Kelp", "24", "wide", "whole numbers")]
    public async Task A_show_that_cannot_be_made_says_why_at_the_field(string code, string name, string rate, string width, string part)
    {
        (string text, _) = await app.PostAsync("/new-show", "", ("Code", code), ("Name", name), ("Rate", rate), ("Width", width), ("Height", "36"));
        Assert.Contains(part, text);
    }

    [Theory]
    [InlineData("KP 1", "1-2", "24", "A name", false)]
    [InlineData("NS010", "9-2", "24", "runs backwards; write 2-9", true)]
    [InlineData("NS010", "1-2", "x", "is not a frame rate", true)]
    [InlineData("NS010", "", "24", "The shot has no frames", true)]
    public async Task A_shot_that_cannot_be_planned_says_why_at_the_field(string code, string frames, string rate, string part, bool exact)
    {
        (string text, _) = await app.PostAsync("/KELP/new-shot", "?handler=Plan", ("Code", code), ("Frames", frames), ("Rate", rate), ("Width", "64"), ("Height", "36"), ("Camera", "cam_main"));
        Assert.Contains(exact ? part : "may hold letters", text);
    }

    [Fact]
    public async Task A_shot_is_planned_from_fields()
    {
        (_, Uri address) = await app.PostAsync("/KELP/new-shot", "?handler=Plan", ("Code", "FS010"), ("Frames", "1-360"), ("Rate", "23.976"), ("Width", "64"), ("Height", "36"), ("Camera", "cam_main"));
        Assert.Equal("/KELP/FS010/plan", address.AbsolutePath);
        Assert.Contains("24000/1001", await app.GetAsync("/KELP/FS010/plan"));
        Assert.Contains("No layers yet", await app.GetAsync("/KELP/FS010/plan"));
    }

    [Fact]
    public async Task A_plan_with_mistakes_is_refused_with_their_fields()
    {
        string json = """{"schema":"dune-crate.plan/1","show":{"code":"KELP"},"shot":{"code":"BP010","frames":"1-20","frameRate":"24","width":64,"height":36},"layers":[{"name":"sub","outputs":[{"template":"{layer}.exr","passes":[{"pass":"glimmer","channels":{"R":"half"}}]}]}]}""";
        (string text, _) = await app.PostAsync("/KELP/new-shot", "?handler=Import", ("Json", json));
        Assert.Contains("layers[0].outputs[0].template", text);
        Assert.Contains("no {frame}", text);
        Assert.Contains("'glimmer' is not a pass", text);
    }

    [Fact]
    public async Task The_pass_sheet_is_edited_and_keeps_it()
    {
        await app.PostAsync("/KELP/new-shot", "?handler=Plan", ("Code", "PS010"), ("Frames", "1001-1010"), ("Rate", "24"), ("Width", "64"), ("Height", "36"), ("Camera", "cam_main"));
        await app.PostAsync("/KELP/PS010/plan", "?handler=AddLayer", ("name", "sub"), ("revision", "0"));
        await app.PostAsync("/KELP/PS010/plan", "?handler=Toggle", ("on", "sub"), ("of", "depth"), ("revision", "1"));
        await app.PostAsync("/KELP/PS010/plan", "?handler=Toggle", ("on", "sub"), ("of", "matte.lamps"), ("revision", "2"));
        await app.PostAsync("/KELP/PS010/plan?layer=sub&pass=depth", "&handler=Type", ("type", "half"), ("revision", "3"));
        JsonNode plan = JsonNode.Parse(await app.Client.GetStringAsync("/KELP/PS010/plan?handler=Export"))!;
        Assert.Equal(["beauty", "depth", "matte.lamps"], plan["layers"]![0]!["outputs"]![0]!["passes"]!.AsArray().Select(p => (string)p!["pass"]!));
        Assert.Equal("half", (string?)plan["layers"]![0]!["outputs"]![0]!["passes"]![1]!["channels"]!["Z"]);
    }

    [Fact]
    public async Task A_change_made_on_an_older_plan_is_refused_and_nothing_is_lost()
    {
        await app.AddShotAsync("CF010");
        await app.PostAsync("/KELP/CF010/plan", "?handler=Toggle", ("on", "kelp"), ("of", "uv"), ("revision", "0"));
        (string text, _) = await app.PostAsync("/KELP/CF010/plan", "?handler=Toggle", ("on", "kelp"), ("of", "emission"), ("revision", "0"));
        Assert.Contains("Somebody changed this plan after you opened it", text);
        string plan = await app.Client.GetStringAsync("/KELP/CF010/plan?handler=Export");
        Assert.Contains("uv.U", plan);
        Assert.Contains("\"revision\":\"1\"", text);
    }

    [Theory]
    [InlineData("?handler=AddLayer", "name", "s b", "may hold letters")]
    [InlineData("?handler=AddLayer", "name", "SUB", "Two layers are called")]
    [InlineData("?handler=Toggle", "of", "glimmer", "'glimmer' is not a pass")]
    [InlineData("?handler=Shot", "frames", "20-1", "runs backwards")]
    [InlineData("?handler=Type", "type", "double", "is not a channel type")]
    public async Task Mistakes_on_the_pass_sheet_are_said(string handler, string field, string value, string part)
    {
        if (!(await app.GetAsync("/")).Contains("MS010"))
        {
            await app.AddShotAsync("MS010");
        }

        (string text, _) = await app.PostAsync("/KELP/MS010/plan", handler, (field, value), ("on", "sub"), ("rate", "24"), ("width", "64"), ("height", "36"), ("revision", "0"));
        Assert.Contains(part, text);
    }

    [Fact]
    public async Task A_layers_file_name_without_a_frame_is_refused_at_its_field()
    {
        await app.AddShotAsync("TF010");
        (string text, _) = await app.PostAsync("/KELP/TF010/plan?layer=sub", "&handler=Layer", ("was", "sub"), ("name", "sub"), ("alpha", "Premultiplied"), ("arrangement", "Shared"), ("template", "{layer}.exr"), ("padding", "4"), ("compression", "zip"), ("rebuild", ""), ("revision", "0"));
        Assert.Contains("4 frames are planned and the name has no {frame}", text);
        Assert.Contains("value=\"{layer}.exr\"", text);
        (text, _) = await app.PostAsync("/KELP/TF010/plan?layer=sub", "&handler=Layer", ("was", "sub"), ("name", "boat"), ("alpha", "None"), ("arrangement", "PerPass"), ("template", "{layer}.{frame}.exr"), ("padding", "5"), ("compression", "rle"), ("rebuild", ""), ("revision", "0"));
        Assert.Contains("boat_beauty/TF010_boat_beauty.01001.exr", text);
    }

    [Theory]
    [InlineData("renders", "../..", "leads out of renders")]
    [InlineData("renders", "nothing-here", "There is no folder")]
    [InlineData("elsewhere", "", "There is no storage root")]
    public async Task Folders_outside_the_roots_are_refused(string root, string folder, string part)
    {
        if (!(await app.GetAsync("/")).Contains("RT010"))
        {
            await app.AddShotAsync("RT010");
        }

        (string text, _) = await app.PostAsync("/KELP/RT010/receive", "?handler=Take", ("root", root), ("folder", folder), ("pixels", "true"));
        Assert.Contains(part, text);
        Assert.Contains("not checked", text);
    }

    [Fact]
    public async Task A_link_that_leads_out_of_a_root_is_refused()
    {
        await app.AddShotAsync("LK010");
        Directory.CreateSymbolicLink(Path.Combine(app.Renders, "sly"), Path.GetTempPath());
        (string text, _) = await app.PostAsync("/KELP/LK010/receive", "?handler=Take", ("root", "renders"), ("folder", "sly"), ("pixels", "true"));
        Assert.Contains("is a link that leads out", text);
    }

    [Fact]
    public async Task A_form_without_its_token_changes_nothing()
    {
        using HttpResponseMessage answer = await app.Client.PostAsync("/new-show", new FormUrlEncodedContent([KeyValuePair.Create("Code", "EVIL"), KeyValuePair.Create("Name", "x")]));
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        Assert.DoesNotContain("EVIL", await app.GetAsync("/"));
    }

    [Fact]
    public async Task Pages_ask_for_nothing_outside()
    {
        await app.AddShotAsync("NO010");
        foreach (string page in Stations.Select(s => $"/KELP/NO010/{s}").Append("/").Append("/rules"))
        {
            string html = await app.GetAsync(page);
            Assert.DoesNotMatch("(src|href|action)=\"(https?:)?//", html);
            foreach (Match match in Regex.Matches(html, "(?:src|href)=\"(/(?:css|js|lib)/[^\"]+)\""))
            {
                using HttpResponseMessage answer = await app.Client.GetAsync(match.Groups[1].Value);
                Assert.True(answer.IsSuccessStatusCode, match.Groups[1].Value);
            }
        }
    }

    [Fact]
    public async Task The_rules_page_lists_every_rule()
    {
        string page = await app.GetAsync("/rules");
        Assert.All(DuneCrate.Core.Checks.RuleBook.All, rule => Assert.Contains(rule.Id, page));
    }
}
