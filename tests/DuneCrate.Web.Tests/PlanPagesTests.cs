using System.Net;
using System.Text.Json.Nodes;
using DuneCrate.Core.Checks;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Passes;
using DuneCrate.Core.Planning.Edits;
using DuneCrate.Core.Planning.Model;
using DuneCrate.Core.Planning.Sheet;
using DuneCrate.Core.Scene;
using DuneCrate.StandIns.Demo;
using DuneCrate.StandIns.Renderer;
using DuneCrate.Store;

namespace DuneCrate.Web.Tests;

/// <summary>The Plan station over HTTP: edits, undo, two people, and every part of it.</summary>
public class PlanPagesTests(AppFixture app) : IClassFixture<AppFixture>
{
    private static WriteCells Cell(string layer, string pass, string text) => new([new CellText(layer, pass, text)]);

    private static string Shown(JsonNode body, string pass, string layer)
    {
        JsonNode model = body["model"]!;
        int r = model["rows"]!.AsArray().Select(x => (string)x!["key"]!).ToList().IndexOf(pass),
            c = model["columns"]!.AsArray().Select(x => (string)x!["key"]!).ToList().IndexOf(layer);
        return (string)model["cells"]![r]![c]!["text"]!;
    }

    /// <summary>A shot with the demo's plan: roster, roles, ids, a based-on layer.</summary>
    private async Task<Plan> AddDemoAsync(string code)
    {
        Plan plan = DemoPlan.Create(code, FrameSet.Parse("1001-1004"));
        plan = plan with { Shot = plan.Shot with { Width = 64, Height = 36 } };
        (string text, Uri address) = await app.PostAsync("/KELP/new-shot", "?handler=Import", ("Json", PlanDocument.Write(plan)));
        Assert.True(address.AbsolutePath == $"/KELP/{code}/plan", text);
        return plan;
    }

    [Fact]
    public async Task Cells_are_written_and_kept_over_a_restart()
    {
        await app.AddShotAsync("PC010");
        (HttpStatusCode status, JsonNode body) = await app.EditAsync("PC010", 0, Cell("kelp", "uv", "float own edge=0.5"));
        Assert.Equal((HttpStatusCode.OK, 1, "float own edge=0.5"), (status, (int)body["revision"]!, Shown(body, "uv", "kelp")));
        await app.RestartAsync();
        Assert.Equal(0.5, (await app.PlanAsync("PC010")).FindLayer("kelp")!.FindPass("uv")!.Threshold);
    }

    [Theory]
    [InlineData("glimmer", "x", "pass", "is not a pass")]
    [InlineData("uv", "soggy", "cell", "means nothing in a cell")]
    public async Task What_cannot_be_written_is_said_at_its_field_and_nothing_changes(string pass, string text, string field, string says)
    {
        string code = $"PR{pass.Length}";
        await app.AddShotAsync(code);
        (HttpStatusCode status, JsonNode body) = await app.EditAsync(code, 0, Cell("kelp", pass, text));
        Assert.Equal((HttpStatusCode.UnprocessableEntity, field, 0), (status, (string)body["field"]!, (int)body["model"]!["revision"]!));
        Assert.Contains(says, (string)body["problem"]!);
    }

    [Fact]
    public async Task Nonsense_and_requests_without_a_token_are_refused()
    {
        await app.AddShotAsync("PN010");
        using HttpResponseMessage answer = await app.Client.PostAsync(
            "/KELP/PN010/plan/edit",
            new StringContent("{}", System.Text.Encoding.UTF8, "application/json")
        );
        Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        Assert.Contains("too old", await answer.Content.ReadAsStringAsync());
        Assert.Equal(
            PlanDocument.Write(StandInPlan.Create("PN010", FrameSet.Parse(AppFixture.Frames), 64, 36)).Length,
            PlanDocument.Write(await app.PlanAsync("PN010")).Length
        );
    }

    [Theory]
    [InlineData("""{"revision":0,"view":"sheet","edit":{}}""")]
    [InlineData("""{"revision":0,"view":"sheet","edit":null}""")]
    [InlineData("""{"revision":0,"view":"sheet","edit":{"do":"cells"}}""")]
    [InlineData("""{"revision":0,"view":"sheet","edit":{"do":"cells","cells":[null]}}""")]
    [InlineData("""{"revision":0,"view":"sheet","edit":{"do":"dance"}}""")]
    [InlineData("""{"revision":"x","view":"sheet","edit":{"do":"assign-ids"}}""")]
    [InlineData("null")]
    [InlineData("soggy")]
    [InlineData("")]
    public async Task A_change_that_is_none_is_refused_in_words(string body)
    {
        if (await app.Service<ShowStore>().ShotAsync("KELP", "PN020") is null)
        {
            await app.AddShotAsync("PN020");
        }

        (HttpStatusCode status, JsonNode answer) = await app.SendAsync(app.Client, "PN020", "edit", body);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, status);
        Assert.StartsWith("That change cannot be read", (string)answer["problem"]!);
        Assert.Equal(0, (await app.Service<ShowStore>().ShotAsync("KELP", "PN020"))!.Revision);
    }

    [Fact]
    public async Task Two_peoples_changes_come_together_and_the_same_cell_is_a_conflict()
    {
        await app.AddShotAsync("PT010");
        using HttpClient other = app.NewClient();
        await app.EditAsync("PT010", 0, Cell("sub", "depth", "half"));
        (HttpStatusCode status, JsonNode body) = await app.EditAsync("PT010", 0, Cell("kelp", "uv", "x"), other);
        Assert.Equal((HttpStatusCode.OK, 2), (status, (int)body["revision"]!));
        Assert.Equal(("half data", "float data"), (Shown(body, "depth", "sub"), Shown(body, "uv", "kelp")));
        (status, body) = await app.EditAsync("PT010", 0, Cell("sub", "depth", "uint"), other);
        Assert.Equal(HttpStatusCode.Conflict, status);
        Assert.Contains("sub · depth · Z", (string)body["problem"]!);
        Assert.Equal("half data", Shown(body, "depth", "sub"));
    }

    [Fact]
    public async Task Undo_takes_back_ones_own_steps_under_what_others_did()
    {
        await app.AddShotAsync("PU010");
        using HttpClient other = app.NewClient();
        await app.EditAsync("PU010", 0, Cell("sub", "depth", "half"));
        await app.EditAsync("PU010", 1, new SetLayer("kelp") { Group = "weeds" }, other);
        (HttpStatusCode status, JsonNode body) = await app.StepAsync("PU010", "undo");
        Assert.Equal(
            (HttpStatusCode.OK, "float data", (string?)null),
            (status, Shown(body, "depth", "sub"), (string?)body["model"]!["undo"])
        );
        Assert.Equal("weeds", (await app.PlanAsync("PU010")).FindLayer("kelp")!.Group);
        (_, body) = await app.StepAsync("PU010", "redo");
        Assert.Equal("half data", Shown(body, "depth", "sub"));
        (_, body) = await app.StepAsync("PU010", "undo");
        (status, body) = await app.StepAsync("PU010", "undo");
        Assert.Equal(HttpStatusCode.UnprocessableEntity, status);
        Assert.Contains("no step to take back", (string)body["problem"]!);
        (_, body) = await app.StepAsync("PU010", "undo", other);
        Assert.Null((await app.PlanAsync("PU010")).FindLayer("kelp")!.Group);
    }

    [Fact]
    public async Task Undo_of_what_somebody_changed_again_is_a_conflict()
    {
        await app.AddShotAsync("PX010");
        using HttpClient other = app.NewClient();
        await app.EditAsync("PX010", 0, Cell("sub", "depth", "half"));
        await app.EditAsync("PX010", 1, Cell("sub", "depth", "uint"), other);
        (HttpStatusCode status, JsonNode body) = await app.StepAsync("PX010", "undo");
        Assert.Equal((HttpStatusCode.Conflict, "uint data"), (status, Shown(body, "depth", "sub")));
    }

    [Fact]
    public async Task Many_edits_at_once_are_all_kept()
    {
        await app.AddShotAsync("PM010");
        string[] passes = ["volume", "coat", "scattering", "indirect_light", "albedo", "irradiance", "wireframe", "background"];
        (string Layer, string Pass)[] cells = [.. passes.SelectMany(pass => new[] { ("sub", pass), ("kelp", pass), ("seabed", pass) })];
        Plan before = await app.PlanAsync("PM010");
        cells = [.. cells.Where(c => before.FindLayer(c.Layer)!.FindPass(c.Pass) is null)];
        await Task.WhenAll(
            cells.Select(async cell =>
            {
                using HttpClient one = app.NewClient();
                (HttpStatusCode status, JsonNode body) = await app.EditAsync("PM010", 0, Cell(cell.Layer, cell.Pass, "x"), one);
                Assert.True(status == HttpStatusCode.OK, (string?)body["problem"]);
            })
        );
        Plan plan = await app.PlanAsync("PM010");
        Assert.All(cells, c => Assert.NotNull(plan.FindLayer(c.Layer)!.FindPass(c.Pass)));
        Assert.Equal(cells.Length, (await app.Service<ShowStore>().ShotAsync("KELP", "PM010"))!.Revision);
    }

    [Fact]
    public async Task Open_pages_hear_of_changes()
    {
        await app.AddShotAsync("PE010");
        using HttpResponseMessage stream = await app.Client.GetAsync("/KELP/PE010/events", HttpCompletionOption.ResponseHeadersRead);
        Assert.Equal("text/event-stream", stream.Content.Headers.ContentType!.MediaType);
        using var reader = new StreamReader(await stream.Content.ReadAsStreamAsync());
        Assert.Equal("event: hello", await reader.ReadLineAsync());
        await app.EditAsync("PE010", 0, Cell("sub", "depth", "half"));
        string? line;
        do
        {
            line = await reader.ReadLineAsync();
        } while (line is not null && !line.Contains("\"revision\""));
        Assert.Contains("depth of sub set to half", line);
    }

    [Theory]
    [InlineData("scene", "hull", "traits", "glossy animated")]
    [InlineData("roles", "kelp", "sub", "holdout")]
    [InlineData("settings", "bounces.refraction", "sub", "4")]
    [InlineData("files", "sub|Shared", "template", "{layer}/{shot}_{layer}.{frame}.exr")]
    public async Task Every_grid_shows_its_cells(string view, string row, string column, string text)
    {
        string code = $"PG{view.Length}{view[0]}";
        await AddDemoAsync(code);
        JsonNode model = JsonNode.Parse(await app.Client.GetStringAsync($"/KELP/{code}/plan/model?view={view}"))!;
        int r = model["rows"]!.AsArray().Select(x => (string)x!["key"]!).ToList().IndexOf(row),
            c = model["columns"]!.AsArray().Select(x => (string)x!["key"]!).ToList().IndexOf(column);
        Assert.Equal(text, (string)model["cells"]![r]![c]!["text"]!);
        Assert.Contains("grid-model", await app.GetAsync($"/KELP/{code}/plan/{view}"));
    }

    [Fact]
    public async Task Findings_stand_beside_their_cells_with_a_remedy_that_works()
    {
        await AddDemoAsync("PF010");
        (_, JsonNode body) = await app.EditAsync(
            "PF010",
            0,
            new SetOutputs(["sub"], PassHome.Shared) { Template = "{layer}/{shot}_{layer}.exr" }
        );
        string page = await app.GetAsync("/KELP/PF010/plan?layer=sub&pass=beauty");
        Assert.Contains("4 frames are planned and the name {layer}/{shot}_{layer}.exr has no {frame}", page);
        Assert.Contains("data-edit", page);
        Assert.Contains("\"blocker", body["model"]!["cells"]!.ToJsonString().Replace("on blocker", "\"blocker"));
        Assert.Contains("4 frames are planned", await app.GetAsync("/KELP/PF010/plan/files"));
    }

    [Fact]
    public async Task A_new_name_shows_what_follows_before_it_is_done()
    {
        await AddDemoAsync("PA010");
        string says = await app.GetAsync("/KELP/PA010/plan?handler=Rename&layer=sub&name=boat");
        Assert.Contains("boat/PA010_boat.####.exr", says);
        Assert.Contains("letters, digits", await app.GetAsync("/KELP/PA010/plan?handler=Rename&layer=sub&name=b%20t"));
        await app.EditAsync("PA010", 0, new RenameLayer("sub", "boat"));
        Assert.Equal("boat", (await app.PlanAsync("PA010")).FindLayer("sub_occlusion")!.BasedOn);
    }

    [Fact]
    public async Task Items_come_from_tables_and_gltf_and_bad_ones_are_named()
    {
        await app.AddShotAsync("PI010");
        (string text, _) = await app.PostAsync(
            "/KELP/PI010/plan/scene",
            "?handler=Items",
            ("table", "name\tkind\ttraits\nanchor\tobject\twet"),
            ("revision", "0")
        );
        Assert.Contains("'wet' is not a trait", text);
        await app.PostAsync(
            "/KELP/PI010/plan/scene",
            "?handler=Items",
            ("table", "name\tkind\ttraits\nanchor\tobject\tglossy\nlens\tcamera"),
            ("revision", "0")
        );
        Assert.Equal(
            [("anchor", ItemKind.Object), ("lens", ItemKind.Camera)],
            (await app.PlanAsync("PI010")).Items.Select(i => (i.Name, i.Kind))
        );

        string token = System
            .Text.RegularExpressions.Regex.Match(
                await app.Client.GetStringAsync("/KELP/PI010/plan/scene"),
                """name="__RequestVerificationToken" type="hidden" value="([^"]+)"""
            )
            .Groups[1]
            .Value;
        using var form = new MultipartFormDataContent
        {
            { new StringContent(token), "__RequestVerificationToken" },
            { new StringContent("1"), "revision" },
            { new StringContent(KelpGltf.Write("KP010")), "file", "kelp.gltf" },
        };
        using HttpResponseMessage answer = await app.Client.PostAsync("/KELP/PI010/plan/scene?handler=Items", form);
        Assert.True(answer.IsSuccessStatusCode);
        Plan plan = await app.PlanAsync("PI010");
        Assert.Contains(plan.Items, i => i.Name == "dome" && i.Is(ItemTrait.Transparent));
        Assert.Contains("Plan it", await app.GetAsync("/KELP/PI010/plan/scene"));
        Assert.StartsWith("name,kind,traits", await app.Client.GetStringAsync("/KELP/PI010/plan/scene?handler=Roster"));
    }

    [Fact]
    public async Task Ids_are_shown_from_both_sides_and_mended()
    {
        await AddDemoAsync("PD010");
        await app.EditAsync("PD010", 0, new PutItems([new SceneItem { Name = "anchor", Id = 1 }]));
        Assert.Contains("carry the same object id 1", await app.GetAsync("/KELP/PD010/plan/ids"));
        await app.PostAsync("/KELP/PD010/plan/ids", "?handler=Edit", ("edit", """{"do":"assign-ids"}"""), ("revision", "1"));
        Assert.Equal(8, (await app.PlanAsync("PD010")).Items.First(i => i.Name == "anchor").Id);
        Assert.DoesNotContain("carry the same", await app.GetAsync("/KELP/PD010/plan/ids"));
    }

    [Fact]
    public async Task A_test_frame_is_taken_in_checked_and_multiplied_out()
    {
        Plan plan = await AddDemoAsync("PZ010");
        await app.PostAsync("/KELP/PZ010/plan/estimate", "?handler=Choose", ("frame", "1004"), ("scale", "0.5"), ("revision", "0"));
        Disk.Render(TestFrameCheck.PlanFor(plan, 1004, 0.5), Path.Combine(app.Renders, "PZ010_test"), null, []);
        (string text, _) = await app.PostAsync(
            "/KELP/PZ010/plan/estimate",
            "?handler=Take",
            ("root", "renders"),
            ("folder", "PZ010_test"),
            ("revision", "1")
        );
        Assert.Contains("nothing blocks", text);
        Assert.Contains("12 of 12 files measured", text);
        await app.PostAsync("/KELP/PZ010/plan/estimate", "?handler=Time", ("layer", "kelp"), ("seconds", "360"), ("revision", "2"));
        Assert.Contains("1.60", await app.GetAsync("/KELP/PZ010/plan/estimate"));
        (text, _) = await app.PostAsync(
            "/KELP/PZ010/plan/estimate",
            "?handler=Take",
            ("root", "renders"),
            ("folder", "../elsewhere"),
            ("revision", "3")
        );
        Assert.Contains("leads out of renders", text);
        (text, _) = await app.PostAsync(
            "/KELP/PZ010/plan/estimate",
            "?handler=Choose",
            ("frame", "9999"),
            ("scale", "0.5"),
            ("revision", "3")
        );
        Assert.Contains("is not in the shot", text);
    }

    [Fact]
    public async Task What_is_not_confirmed_is_seen_on_receive()
    {
        await app.AddShotAsync("PP010");
        Assert.Contains("9 not confirmed", await app.GetAsync("/KELP/PP010/receive"));
        (string text, _) = await app.PostAsync(
            "/KELP/PP010/plan/preflight",
            "?handler=Tick",
            ("item", "The lights are on"),
            ("by", " "),
            ("on", "true")
        );
        Assert.Contains("Say who confirms it", text);
        await app.PostAsync(
            "/KELP/PP010/plan/preflight",
            "?handler=Tick",
            ("item", "The lights are on"),
            ("by", "a wrangler"),
            ("on", "true")
        );
        Assert.Contains("a wrangler,", await app.GetAsync("/KELP/PP010/plan/preflight"));
        Assert.Contains("8 not confirmed", await app.GetAsync("/KELP/PP010/receive"));
        await app.PostAsync("/KELP/PP010/plan/preflight", "?handler=Tick", ("item", "The lights are on"), ("by", ""), ("on", "false"));
        Assert.Contains("9 not confirmed", await app.GetAsync("/KELP/PP010/receive"));
    }

    [Fact]
    public async Task Versions_are_compared_and_brought_back()
    {
        await app.AddShotAsync("PV010");
        await app.EditAsync("PV010", 0, Cell("sub", "depth", "half"));
        string page = await app.GetAsync("/KELP/PV010/plan/versions");
        Assert.Contains("depth of sub set to half", page);
        Assert.Contains("sub · depth · Z", page);
        await app.PostAsync("/KELP/PV010/plan/versions", "?handler=Back", ("version", "0"), ("revision", "1"));
        Assert.Contains("version 0 brought back", await app.GetAsync("/KELP/PV010/plan/versions"));
        Assert.Equal(Core.Passes.ChannelType.Float, (await app.PlanAsync("PV010")).FindLayer("sub")!.FindPass("depth")!.Channels["Z"]);
    }

    [Fact]
    public async Task New_shots_begin_with_another_shot_or_a_template()
    {
        await AddDemoAsync("PW010");
        await app.PostAsync("/KELP/PW010/plan/versions", "?handler=Keep", ("name", "underwater, close"));
        string page = await app.GetAsync("/KELP/new-shot");
        string template = System.Text.RegularExpressions.Regex.Match(page, "value=\"(template:\\d+)\"").Groups[1].Value;
        foreach ((string from, string code) in new[] { ("shot:PW010", "PW020"), (template, "PW030") })
        {
            (string text, Uri address) = await app.PostAsync(
                "/KELP/new-shot",
                "?handler=Copy",
                ("From", from),
                ("Code", code),
                ("Frames", "2001-2008"),
                ("Camera", "cam_witness")
            );
            Assert.True(address.AbsolutePath == $"/KELP/{code}/plan", text);
            Plan plan = await app.PlanAsync(code);
            Assert.Equal(
                ("2001-2008", "cam_witness", 4, 16),
                (plan.Shot.Frames.ToString(), plan.Shot.Camera, plan.Layers.Length, plan.Items.Length)
            );
        }

        (string refused, _) = await app.PostAsync(
            "/KELP/new-shot",
            "?handler=Copy",
            ("From", "shot:PW010"),
            ("Code", "PW 40"),
            ("Frames", "8-1"),
            ("Camera", "")
        );
        Assert.Contains("runs backwards", refused);
    }

    [Fact]
    public async Task Show_settings_reach_every_shot_and_bad_ones_are_refused_at_their_field()
    {
        await app.PostAsync("/new-show", "", ("Code", "SETS"), ("Name", "Settings"), ("Rate", "24"), ("Width", "64"), ("Height", "36"));
        (string, string)[] good =
        [
            ("name", "Settings"),
            ("rate", "25"),
            ("width", "64"),
            ("height", "36"),
            ("padding", "5"),
            ("template", "{shot}/{layer}.{frame}.exr"),
            ("machines", "3"),
            ("versionStyle", "v000"),
            ("colourSpace", "lin_rec709"),
            ("settings", "samples = 32"),
            ("passes", "caustics | caustics | light | R G B | half | plus"),
            ("aliases", "glow = emission"),
            ("preflight", "The tide is out"),
            ("rule.plan.depth", "Blocker"),
            ("rule.plan.ids.nearest", "20"),
            ("rule.frames.extra", "off"),
        ];
        (string text, _) = await app.PostAsync("/SETS/settings", "", good);
        Assert.Contains("Saved.", text);
        await app.PostAsync(
            "/SETS/new-shot",
            "?handler=Plan",
            ("Code", "ST010"),
            ("Frames", "1-4"),
            ("Rate", "25"),
            ("Width", "64"),
            ("Height", "36"),
            ("Camera", "c")
        );
        Plan plan = PlanDocument.Read(await app.Client.GetStringAsync("/SETS/ST010/plan?handler=Export")).Plan!;
        plan = new AddLayer("sub").Apply(plan);
        Assert.Equal(("{shot}/{layer}.{frame}.exr", 5), (plan.Layers[0].Outputs[0].Template, plan.Layers[0].Outputs[0].Padding));
        Assert.NotNull(plan.Catalogue.Find("caustics"));
        Assert.Equal(("emission", "32"), (plan.Catalogue.FindByAlias("glow")!.Key, RenderSettings.Value(plan, plan.Layers[0], "samples")));
        Assert.Equal(
            (Core.Rules.Severity.Blocker, 20, true),
            (
                plan.Show.Rules!["plan.depth"].Severity!.Value,
                plan.Show.Rules["plan.ids"].Thresholds!["nearest"],
                plan.Show.Rules["frames.extra"].Off
            )
        );
        Assert.Contains("The tide is out", await app.GetAsync("/SETS/ST010/plan/preflight"));

        foreach (
            (string field, string value, string says) in new[]
            {
                ("rate", "soon", "is not a frame rate"),
                ("padding", "0", "whole number from 1"),
                ("template", "/x", "path below"),
                ("passes", "caustics", "cannot be read"),
                ("aliases", "glow = glimmer", "is not a pass"),
                ("settings", "denoise = maybe", "yes or no"),
                ("versionStyle", "seven", "such as v000"),
                ("rule.plan.ids.nearest", "far", "is not a number"),
            }
        )
        {
            (text, _) = await app.PostAsync("/SETS/settings", "", [.. good.Where(g => g.Item1 != field), (field, value)]);
            Assert.Contains(says, text);
            Assert.Contains("Nothing was saved", text);
        }
    }
}
