using System.Net;
using System.Text.Json.Nodes;
using DuneCrate.Foundation.Frames;
using DuneCrate.Planning.Model;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.Web.Tests;

/// <summary>Frames are compared with those of other versions, of folders beside the shot's and of crates.</summary>
public sealed class FrameSourceTests(AppFixture app) : IClassFixture<AppFixture>
{
    private async Task<JsonNode> JsonAsync(string path) => JsonNode.Parse(await app.GetAsync(path))!;

    /// <summary>Sources that are no earlier checks.</summary>
    private async Task<JsonNode[]> FoundAsync(string code) =>
        [
            .. (await JsonAsync($"/KELP/{code}/sources"))
                .AsArray()
                .Where(s => !((string)s!["key"]!).StartsWith("check/", StringComparison.Ordinal))!,
        ];

    private async Task<string[]> SourcesAsync(string code) => [.. (await FoundAsync(code)).Select(s => (string)s["words"]!)];

    [Fact]
    public async Task Folders_beside_and_crates_are_found_and_compared()
    {
        Plan plan = await app.AddShotAsync("SR010");
        await app.CheckAsync("SR010");
        Assert.Empty(await SourcesAsync("SR010"));

        Disk.Render(plan, Path.Combine(app.Renders, "SR010_v001"), FrameSet.Parse("1001-1002"), [Fault.Read("copy:sub:1002")]);
        Directory.CreateDirectory(Path.Combine(app.Renders, "SR0101"));
        await app.PostAsync("/KELP/SR010/crate", "?handler=Seal", ("by", "Ada Reed"), ("layout", "layers"));
        string crates = await app.UntilAsync("/KELP/SR010/crate", text => text.Contains("Whole, read back") || text.Contains("not sealed"));
        Assert.True(crates.Contains("Whole"), System.Text.RegularExpressions.Regex.Match(crates, "not sealed.{400}").Value);
        Assert.Equal(["folder SR010_v001", "crate SR010_crate_v001"], await SourcesAsync("SR010"));

        foreach (JsonNode source in await FoundAsync("SR010"))
        {
            string key = (string)source["key"]!,
                at = "layer=sub&pass=beauty&frame=1001&minus=" + Uri.EscapeDataString($"sub|beauty|1001|{key}");
            Assert.True((bool)(await JsonAsync($"/KELP/SR010/apart?{at}"))["equal"]!);
            JsonNode ranked = await JsonAsync($"/KELP/SR010/ranked?{at}");
            bool isCrate = key.StartsWith("crate", StringComparison.Ordinal);
            string[] differ = [.. ranked["frames"]!.AsArray().Where(f => !(bool)f!["isEqual"]!).Select(f => $"{f!["frame"]}")];
            Assert.Equal(isCrate ? [] : ["1002"], differ);
            Assert.Equal(isCrate ? 0 : 2, (int)ranked["absent"]!); // The earlier version has two frames of four.
            if (!isCrate)
            {
                Assert.Equal(1002, (int)ranked["frames"]![0]!["frame"]!); // What differs most comes first.
            }
        }

        // A frame that stays is held against every frame.
        string stays = "layer=sub&pass=beauty&frame=1001&stays=on&minus=" + Uri.EscapeDataString("sub|beauty|1001");
        Assert.Equal(1001, (int)(await JsonAsync($"/KELP/SR010/ranked?{stays}"))["frames"]!.AsArray().Last()!["frame"]!);
    }

    [Fact]
    public async Task Versions_in_the_names_of_files_are_found()
    {
        Plan plan = StandInPlan.Create("SR020", FrameSet.Parse("1001-1002"), 64, 36);
        plan = plan with
        {
            Shot = plan.Shot with { Version = "v002" },
            Layers =
            [
                .. plan
                    .Layers.Where(l => l.Name == "sub")
                    .Select(l =>
                        l with
                        {
                            Outputs =
                            [
                                .. l.Outputs.Select((o, i) => o with { Template = $"{{version}}/{i}/{{shot}}_{{layer}}.{{frame}}.exr" }),
                            ],
                        }
                    ),
            ],
        };
        await app.PostAsync("/KELP/new-shot", "?handler=Import", ("Json", PlanDocument.Write(plan)));
        foreach (string version in (string[])["v001", "v002", "v010"])
        {
            Disk.Render(plan with { Shot = plan.Shot with { Version = version } }, Path.Combine(app.Renders, "SR020"), null, []);
        }

        await app.CheckAsync("SR020");
        Assert.Equal(["version v010", "version v001"], await SourcesAsync("SR020"));
        string at = "layer=sub&pass=beauty&frame=1001&minus=" + Uri.EscapeDataString("sub|beauty|1001|version/v001");
        Assert.True((bool)(await JsonAsync($"/KELP/SR020/apart?{at}"))["equal"]!);
        Assert.NotEmpty((await JsonAsync("/KELP/SR020/seen?layer=sub&pass=beauty&frame=1001&from=version/v010"))["choices"]!.AsArray());
    }

    /// <summary>What is no place of this shot's is not there, whatever it would lead to.</summary>
    [Fact]
    public async Task Other_places_are_not_there()
    {
        await app.AddShotAsync("SR030");
        await app.CheckAsync("SR030");
        foreach (string key in "folder/SR030x folder/.. folder/../crates version/../../x crate/1 crate/ nothing".Split(' '))
        {
            string from = Uri.EscapeDataString(key);
            using HttpResponseMessage seen = await app.Client.GetAsync($"/KELP/SR030/seen?layer=sub&pass=beauty&frame=1001&from={from}");
            Assert.True(seen.StatusCode == HttpStatusCode.NotFound, key);
        }
    }
}
