using System.Net;
using System.Text.Json.Nodes;
using DuneCrate.Foundation.Frames;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Sheet;
using DuneCrate.StandIns.Demo;
using DuneCrate.StandIns.Renderer;
using DuneCrate.Store;

namespace DuneCrate.Web.Tests;

/// <summary>The Plan station over HTTP: edits, undo, two people, and every part of it.</summary>
public partial class PlanPagesTests(AppFixture app) : IClassFixture<AppFixture>
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
}
