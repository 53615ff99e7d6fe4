using System.Net;
using System.Text.RegularExpressions;
using DuneCrate.Checking.Rules;
using DuneCrate.Planning.Rules;

namespace DuneCrate.Web.Tests;

/// <summary>Every page over HTTP: what it shows, what it refuses and how it says so.</summary>
public class PagesTests(AppFixture app) : IClassFixture<AppFixture>
{
    private static readonly string[] PlanParts =
    [
        "scene",
        "roles",
        "ids",
        "files",
        "settings",
        "estimate",
        "preflight",
        "versions",
        "print",
    ];

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
        (string text, _) = await app.PostAsync(
            "/new-show",
            "",
            ("Code", code),
            ("Name", name),
            ("Rate", rate),
            ("Width", width),
            ("Height", "36")
        );
        Assert.Contains(part, text);
    }

    [Theory]
    [InlineData("KP 1", "1-2", "24", "A name", false)]
    [InlineData("NS010", "9-2", "24", "runs backwards; write 2-9", true)]
    [InlineData("NS010", "1-2", "x", "is not a frame rate", true)]
    [InlineData("NS010", "", "24", "The shot has no frames", true)]
    public async Task A_shot_that_cannot_be_planned_says_why_at_the_field(string code, string frames, string rate, string part, bool exact)
    {
        (string text, _) = await app.PostAsync(
            "/KELP/new-shot",
            "?handler=Plan",
            ("Code", code),
            ("Frames", frames),
            ("Rate", rate),
            ("Width", "64"),
            ("Height", "36"),
            ("Camera", "cam_main")
        );
        Assert.Contains(exact ? part : "may hold letters", text);
    }

    [Fact]
    public async Task A_shot_is_planned_from_fields()
    {
        (_, Uri address) = await app.PostAsync(
            "/KELP/new-shot",
            "?handler=Plan",
            ("Code", "FS010"),
            ("Frames", "1-360"),
            ("Rate", "23.976"),
            ("Width", "64"),
            ("Height", "36"),
            ("Camera", "cam_main")
        );
        Assert.Equal("/KELP/FS010/plan", address.AbsolutePath);
        Assert.Contains("24000/1001", await app.GetAsync("/KELP/FS010/plan"));
        Assert.Contains("No layers yet", await app.GetAsync("/KELP/FS010/plan"));
    }

    [Fact]
    public async Task A_plan_with_mistakes_is_refused_with_their_fields()
    {
        string json = """
            {"schema":"dune-crate.plan/1","show":{"code":"KELP"},"shot":{"code":"BP010","frames":"1-20","frameRate":"24",
            "width":64,"height":36},"layers":[{"name":"sub","outputs":[{"template":"{layer}.exr","passes":[{"pass":"glimmer",
            "channels":{"R":"half"}}]}]}]}
            """;
        (string text, _) = await app.PostAsync("/KELP/new-shot", "?handler=Import", ("Json", json));
        Assert.Contains("layers[0].outputs[0].template", text);
        Assert.Contains("no {frame}", text);
        Assert.Contains("'glimmer' is not a pass", text);
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

        (string text, _) = await app.PostAsync(
            "/KELP/RT010/receive",
            "?handler=Take",
            ("root", root),
            ("folder", folder),
            ("pixels", "true")
        );
        Assert.Contains(part, text);
        Assert.Contains("not checked", text);
    }

    [Fact]
    public async Task A_link_that_leads_out_of_a_root_is_refused()
    {
        await app.AddShotAsync("LK010");
        Directory.CreateSymbolicLink(Path.Combine(app.Renders, "sly"), Path.GetTempPath());
        (string text, _) = await app.PostAsync(
            "/KELP/LK010/receive",
            "?handler=Take",
            ("root", "renders"),
            ("folder", "sly"),
            ("pixels", "true")
        );
        Assert.Contains("is a link that leads out", text);
    }

    [Fact]
    public async Task A_form_without_its_token_changes_nothing()
    {
        using HttpResponseMessage answer = await app.Client.PostAsync(
            "/new-show",
            new FormUrlEncodedContent([KeyValuePair.Create("Code", "EVIL"), KeyValuePair.Create("Name", "x")])
        );
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        Assert.DoesNotContain("EVIL", await app.GetAsync("/"));
    }

    [Fact]
    public async Task Pages_ask_for_nothing_outside()
    {
        await app.AddShotAsync("NO010");
        foreach (
            string page in Stations
                .Concat(PlanParts.Select(p => $"plan/{p}"))
                .Select(s => $"/KELP/NO010/{s}")
                .Concat(["/", "/rules", "/KELP/settings"])
        )
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
        Assert.All(RuleBook.All, rule => Assert.Contains(rule.Id, page));
        Assert.All(PlanRuleBook.All, rule => Assert.Contains(rule.Id, page));
    }
}
