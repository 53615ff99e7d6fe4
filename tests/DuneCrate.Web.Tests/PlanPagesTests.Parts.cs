using DuneCrate.Checking;
using DuneCrate.Foundation.Passes;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Scene;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.Web.Tests;

/// <content>The parts beside the sheet: scene, ids, test frame, preflight, versions, settings.</content>
public partial class PlanPagesTests
{
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
        Assert.Equal(
            Foundation.Passes.ChannelType.Float,
            (await app.PlanAsync("PV010")).FindLayer("sub")!.FindPass("depth")!.Channels["Z"]
        );
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
            ("setting.samples", "32"),
            .. Pass("caustics", "caustics", "R G B"),
            .. Pass("", "", ""),
            ("alias", "glow"),
            ("alias.pass", "emission"),
            ("alias", ""),
            ("alias.pass", ""),
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
            (Foundation.Rules.Severity.Blocker, 20, true),
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
                ("setting.denoise", "maybe", "yes or no"),
                ("versionStyle", "seven", "such as v000"),
                ("rule.plan.ids.nearest", "far", "is not a number"),
            }
        )
        {
            (text, _) = await app.PostAsync("/SETS/settings", "", [.. good.Where(g => g.Item1 != field), (field, value)]);
            Assert.Contains(says, text);
            Assert.Contains("Nothing was saved", text);
            Assert.Contains($"value=\"{value}\"", text.Replace($"selected=\"selected\">{value}", $"value=\"{value}\""));
        }

        foreach (
            ((string, string)[] row, string says) in new[]
            {
                (Pass("sky light", "sky light", "R G B"), "The key: "),
                (Pass("foam", "foam", ""), "at least one channel"),
                (Pass("caustics", "twice", "R"), "Two rows have the key caustics"),
                ([("alias", "shine"), ("alias.pass", "glimmer")], "is not a pass"),
                ([("alias", "shine"), ("alias.pass", "")], "Fill both fields"),
                ([("own", "samples"), ("own.value", "7")], "has a field above"),
            }
        )
        {
            (text, _) = await app.PostAsync("/SETS/settings", "", [.. good, .. row]);
            Assert.Contains(says, text);
            foreach ((_, string typed) in row)
            {
                Assert.True(typed.Length == 0 || text.Contains(typed), $"'{typed}' is gone from the page.");
            }
        }

        Assert.DoesNotContain("foam", await app.GetAsync("/SETS/settings"));
    }

    private static (string, string)[] Pass(string key, string name, string channels) =>
        [
            ("pass.key", key),
            ("pass.name", name),
            ("pass.kind", "Light"),
            ("pass.channels", channels),
            ("pass.type", "half"),
            ("pass.filtered", ""),
            ("pass.operation", "plus"),
            ("pass.remark", ""),
        ];
}
