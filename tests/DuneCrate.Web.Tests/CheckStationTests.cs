using System.Net;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Reports;
using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Model;
using DuneCrate.Store;
using DuneCrate.Store.Rows;

namespace DuneCrate.Web.Tests;

/// <summary>The Check station over HTTP: narrowing, what can be done about a finding, evidence, and the summary of the show.</summary>
public sealed partial class CheckStationTests(AppFixture app) : IClassFixture<AppFixture>
{
    [Fact]
    public async Task Map_and_findings_are_narrowed_together()
    {
        await app.AddShotAsync("CS010", "nonfinite:sub:1002", "missing:kelp:1003", "wrong-rate:seabed:1001");
        await app.CheckAsync("CS010");
        string all = await app.GetAsync("/KELP/CS010/check");
        Assert.True(Found(all) >= 3, all);
        Assert.True(Lanes(all) > 3);

        string one = await app.GetAsync("/KELP/CS010/check?rule=pixels.nonfinite");
        Assert.Equal((1, 1), (Found(one), Lanes(one)));
        Assert.Contains($"1 of {Lanes(all)} outputs", one);
        Assert.Contains($"1 of {Found(all)}", one);
        Assert.Contains("show all", one);
        Assert.Contains("rule=pixels.nonfinite", Link(one, "look")); // Stays on when one goes on.

        string kelp = await app.GetAsync("/KELP/CS010/check?of-layer=kelp");
        Assert.All(
            Regex.Matches(kelp, """class="lane [^>]*data-layer="([^"]+)""").Select(m => m.Groups[1].Value),
            layer => Assert.Equal("kelp", layer)
        );
        Assert.Equal(1, Found(await app.GetAsync("/KELP/CS010/check?state=missing")));
        Assert.Equal(1, Found(await app.GetAsync("/KELP/CS010/check?words=1003")));
        Assert.Contains("No findings match these filters", await app.GetAsync("/KELP/CS010/check?words=nonsense"));
        Assert.Contains("No outputs match these filters", await app.GetAsync("/KELP/CS010/check?words=nonsense"));
        Assert.Equal(1, Found(await app.GetAsync("/KELP/CS010/look?severity=warning&rule=format.rate")));
    }

    [Fact]
    public async Task Findings_come_in_the_order_asked_for()
    {
        await app.AddShotAsync("CS020", "nonfinite:sub:1004", "wrong-rate:seabed:1001", "missing:kelp:1003");
        await app.CheckAsync("CS020");
        Assert.Equal(
            ["frames.missing", "pixels.nonfinite", "format.rate"],
            Rules(await app.GetAsync("/KELP/CS020/check?order=severity")).Distinct().Where(r => r != "format.drift")
        );
        string[] byFrame = [.. Rules(await app.GetAsync("/KELP/CS020/check?order=frame")).Distinct()];
        Assert.True(
            Array.IndexOf(byFrame, "format.rate") < Array.IndexOf(byFrame, "frames.missing")
                && Array.IndexOf(byFrame, "frames.missing") < Array.IndexOf(byFrame, "pixels.nonfinite")
        );
        string[] byRule = [.. Rules(await app.GetAsync("/KELP/CS020/check?order=rule"))];
        Assert.Equal(byRule.Order(StringComparer.Ordinal), byRule);
    }

    [Fact]
    public async Task Many_findings_come_in_portions()
    {
        await app.AddShotAsync("CS030");
        ShowStore store = app.Service<ShowStore>();
        CheckStore checkStore = app.Service<CheckStore>();
        ShotRow shot = (await store.ShotAsync("KELP", "CS030"))!;
        CheckRow check = await checkStore.AddCheckAsync(shot.Id, pixels: false);
        Finding[] findings =
        [
            .. Enumerable
                .Range(0, 150)
                .Select(i => new Finding
                {
                    Rule = "files.size",
                    Severity = Severity.Warning,
                    Output = $"o{i:000}",
                    Layer = "sub",
                    Frames = Foundation.Frames.FrameSet.Parse(string.Join(',', Enumerable.Range(0, 60).Select(k => i + 3 * k * k))),
                    Expected = "",
                    Found = "",
                    Message = "It differs.",
                    Remedy = "Look.",
                }),
        ];
        await checkStore.SetCheckAsync(
            check.Id,
            JobState.Done,
            0,
            new CheckReport
            {
                Root = "/",
                Depth = Checking.Intake.FactsDepth.Header,
                Sequences = [],
                Findings = [.. findings],
                Rerun = [],
                Summary = new CheckSummary(0, 150, 0, 0, 0, 0),
            }
        );
        string first = await app.GetAsync("/KELP/CS030/check"),
            second = await app.GetAsync("/KELP/CS030/check?handler=Findings&from=60"),
            third = await app.GetAsync("/KELP/CS030/check?handler=Findings&from=120");
        Assert.Equal((60, 60, 30), (Found(first), Found(second), Found(third)));
        Assert.Contains("Show 60 more of 90", first);
        Assert.Contains("Show 30 more of 30", second);
        Assert.DoesNotContain("more of", third);
        Assert.Contains("… (60 frames)", first);
        Assert.Equal(0, Found(await app.GetAsync("/KELP/CS030/check?handler=Findings&from=9999")));
    }

    [Fact]
    public async Task What_to_do_shows_expected_found_and_the_pixels_in_question()
    {
        await app.AddShotAsync("CS040", "nonfinite:sub:1002", "copy:seabed:1003", "unlit:kelp:1002");
        await app.CheckAsync("CS040");
        string nonfinite = await ActsAsync("CS040", "pixels.nonfinite");
        Assert.Contains("finite numbers", nonfinite);
        Assert.Contains("Show on the rerun list", nonfinite);
        Assert.Matches("evidence.png\\?layer=sub&pass=beauty&frame=1002&x=\\d+&y=\\d+", nonfinite);
        string evidence = Regex.Match(nonfinite, "src=\"([^\"]+evidence.png[^\"]+)").Groups[1].Value;
        byte[] png = await app.Client.GetByteArrayAsync(evidence);
        Assert.Equal([0x89, (byte)'P', (byte)'N', (byte)'G'], png[..4]); // PNG (ISO/IEC 15948), signature.
        Assert.Equal(HttpStatusCode.NotFound, (await app.Client.GetAsync(evidence.Replace("frame=1002", "frame=9"))).StatusCode);
        string repeat = await ActsAsync("CS040", "pixels.repeat");
        Assert.Contains("frame=1002&width", repeat); // The frame before and the frame itself.
        Assert.Contains("frame=1003&width", repeat);
        Assert.Contains("what=residual", await ActsAsync("CS040", "rebuild.residual"));
        Assert.Contains("not in the newest report any more", await app.GetAsync("/KELP/CS040/check?handler=Finding&report=0&number=0"));
        JsonNode reasons = JsonNode.Parse(await app.Client.GetStringAsync("/KELP/CS040/check?handler=Reasons"))!;
        Assert.Contains(reasons.AsArray(), r => (string?)r!["f"] == "1002" && ((string?)r["m"])!.Contains("NaN"));
    }

    [Fact]
    public async Task What_came_is_taken_into_the_plan_checked_again_and_can_be_taken_back()
    {
        await app.AddShotAsync("CS050");
        await app.EditAsync("CS050", 0, new SetShot { Frames = "1001-1002" });
        await app.CheckAsync("CS050", "false");
        string acts = await ActsAsync("CS050", "frames.extra");
        Assert.Contains("plans frames 1001-1004", acts);
        string key = Regex.Match(acts, "name=\"key\" value=\"([^\"]+)").Groups[1].Value,
            revision = Regex.Match(acts, "name=\"revision\" value=\"([^\"]+)").Groups[1].Value;
        int before = Found(await app.GetAsync("/KELP/CS050/check?rule=frames.extra"));
        await app.PostAsync("/KELP/CS050/check", "?handler=Replan", ("key", key), ("revision", revision));
        await app.UntilAsync("/KELP/CS050/check?rule=frames.extra", text => Found(text) == before - 1);
        Plan plan = await app.PlanAsync("CS050");
        Assert.Contains(
            plan.Layers.SelectMany(l => l.Outputs),
            o => o.Frames?.ToString() == "1001-1004" || o.Passes.Any(p => p.Frames?.ToString() == "1001-1004")
        );
        Assert.Contains("plans frames 1001-1004", await app.GetAsync("/KELP/CS050/plan/versions"));
        (string gone, _) = await app.PostAsync("/KELP/CS050/check", "?handler=Replan", ("key", key), ("revision", revision));
        Assert.Contains("not in the newest report any more", gone);
    }

    [Fact]
    public async Task A_finding_is_handed_to_somebody_and_taken_back()
    {
        await app.AddShotAsync("CS060", "nonfinite:sub:1002");
        await app.CheckAsync("CS060");
        Assert.DoesNotContain("/KELP/CS060/check?words=Lighting", await app.GetAsync("/KELP/summary"));
        const string Key = "pixels.nonfinite~sub/CS060_sub.####.exr~beauty~1002";
        (string refused, _) = await app.PostAsync("/KELP/CS060/check", "?handler=Hand", ("key", Key), ("to", " "), ("by", "Ada Reed"));
        Assert.Contains("Say to whom", refused);
        (string handed, _) = await app.PostAsync(
            "/KELP/CS060/check",
            "?handler=Hand",
            ("key", Key),
            ("to", "Lighting"),
            ("by", "Ada Reed"),
            ("note", "the lamp again")
        );
        Assert.Contains("With Lighting", handed);
        Assert.Contains("the lamp again", handed);
        Assert.Equal(1, Found(await app.GetAsync("/KELP/CS060/check?words=lighting")));
        Assert.Contains("handed to Lighting", await app.GetAsync("/"));
        JsonNode report = JsonNode.Parse(await app.Client.GetStringAsync("/KELP/CS060/check?handler=Report"))!;
        Assert.Equal("Lighting", (string?)report["findings"]![0]!["handed"]!["to"]);
        string summary = await app.GetAsync("/KELP/summary");
        Assert.Contains("Assigned to", summary);
        Assert.Contains("/KELP/CS060/check?words=Lighting", summary);
        (string back, _) = await app.PostAsync("/KELP/CS060/check", "?handler=TakeBack", ("key", Key));
        Assert.DoesNotContain("With Lighting", back);
        Assert.DoesNotContain("/KELP/CS060/check?words=Lighting", await app.GetAsync("/KELP/summary"));
    }

    [Fact]
    public async Task The_summary_of_a_show_has_its_shots_and_three_forms()
    {
        await app.AddShotAsync("CS070", "missing:sub:1003");
        await app.CheckAsync("CS070");
        string page = await app.GetAsync("/KELP/summary");
        Assert.Contains("/KELP/CS070/check?rule=frames.missing", page);
        JsonNode report = JsonNode.Parse(await app.Client.GetStringAsync("/KELP/summary?handler=Report"))!;
        Assert.Equal("dune-crate.show-report/1", (string?)report["schema"]);
        JsonNode shot = report["shots"]!.AsArray().Single(s => (string?)s!["shot"] == "CS070")!;
        Assert.Equal((1, 1, 1), ((int)shot["missing"]!, (int)shot["blockers"]!, (int)shot["rerun"]!));
        Assert.Contains("CS070,", await app.Client.GetStringAsync("/KELP/summary?handler=Csv"));
        Assert.Contains("<b>CS070</b>", await app.Client.GetStringAsync("/KELP/summary?handler=Page"));
        Assert.Equal(HttpStatusCode.NotFound, (await app.Client.GetAsync("/NONE/summary")).StatusCode);
        Assert.Contains("/KELP/summary", await app.GetAsync("/"));
    }

    [Fact]
    public async Task The_viewer_shows_distances_between_the_planned_near_and_far()
    {
        await app.AddShotAsync("CS080");
        await app.CheckAsync("CS080");
        const string Picture = "/KELP/CS080/picture.png?layer=sub&pass=depth&frame=1001";
        byte[] unplanned = await app.Client.GetByteArrayAsync(Picture),
            asked = await app.Client.GetByteArrayAsync(Picture + "&near=1&far=4");
        await app.EditAsync("CS080", 0, new WriteCells([new CellText("sub", "depth", "float near=1 far=4")]));
        Assert.Equal(asked, await app.Client.GetByteArrayAsync(Picture));
        Assert.Equal(unplanned.Length > 0, !unplanned.AsSpan().SequenceEqual(asked));
    }

    private async Task<string> ActsAsync(string shot, string rule)
    {
        string page = await app.GetAsync($"/KELP/{shot}/check?rule={rule}");
        Match acts = Acts().Match(page);
        Assert.True(acts.Success, page);
        return await app.GetAsync(acts.Groups[1].Value);
    }

    private static int Found(string page) => Regex.Count(page, "data-find ");

    private static int Lanes(string page) => Regex.Count(page, "class=\"lane ");

    private static IEnumerable<string> Rules(string page) => Regex.Matches(page, "What to do · ([a-z.-]+)").Select(m => m.Groups[1].Value);

    private static string Link(string page, string station) =>
        Regex.Match(page, $"""class="stop [^"]*" href="([^"]*/{station}[^"]*)""").Groups[1].Value;

    [GeneratedRegex("<details hx-get=\"([^\"]+)")]
    private static partial Regex Acts();
}
