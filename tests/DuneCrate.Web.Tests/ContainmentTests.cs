using System.Net;
using System.Text.Json.Nodes;
using DuneCrate.Foundation.Frames;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Model;
using DuneCrate.StandIns.Renderer;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;

namespace DuneCrate.Web.Tests;

/// <summary>
/// No plan, whichever way it comes in, leads outside the roots, and none makes a page break.
/// Source: OWASP Application Security Verification Standard 4.0.3, V12.3.1 (file names are not used directly), V5.1.3 and V5.1.4
/// (validation on the server, of structure and range).
/// </summary>
public class ContainmentTests(AppFixture app) : IClassFixture<AppFixture>
{
    private static readonly FrameSet Frames = FrameSet.Parse(AppFixture.Frames);

    /// <summary>What may be wrong with a plan.</summary>
    private static readonly string[] Ways =
    [
        "layer up",
        "layer absolute",
        "layer empty",
        "version",
        "shot",
        "show",
        "template",
        "pass",
        "frames",
        "many layers",
        "long note",
        "control",
    ];

    public static TheoryData<string> Wrong() => [.. Ways];

    [Theory]
    [MemberData(nameof(Wrong))]
    public async Task A_plan_that_is_brought_in_is_refused_with_a_sentence(string what)
    {
        Plan wrong = Spoiled(StandInPlan.Create("CN010", Frames, 64, 36), what);
        (string text, Uri address) = await app.PostAsync("/KELP/new-shot", "?handler=Import", ("Json", PlanDocument.Write(wrong)));
        Assert.Equal("/KELP/new-shot", address.AbsolutePath);
        Assert.True(System.Text.RegularExpressions.Regex.IsMatch(text, "<ul class=\"wrong\">\\s*<li>"), text);
        Assert.Null(await app.Service<ShowStore>().ShotAsync("KELP", "CN010"));
    }

    [Theory]
    [MemberData(nameof(Wrong))]
    public async Task So_is_one_that_replaces_another_through_the_edit_address(string what)
    {
        if (await app.Service<ShowStore>().ShotAsync("KELP", "CN020") is null)
        {
            await app.AddShotAsync("CN020");
        }

        Plan plan = await app.PlanAsync("CN020");
        (HttpStatusCode status, JsonNode body) = await app.EditAsync(
            "CN020",
            (await app.Service<ShowStore>().ShotAsync("KELP", "CN020"))!.Revision,
            new ReplacePlan(Spoiled(plan, what), "mine")
        );
        if (what is "shot" or "show")
        {
            // The codes stay those of the shot, whatever the other plan says.
            Assert.Equal(HttpStatusCode.OK, status);
            Assert.Equal(("KELP", "CN020"), ((await app.PlanAsync("CN020")).Show.Code, (await app.PlanAsync("CN020")).Shot.Code));
            return;
        }

        Assert.Equal(HttpStatusCode.UnprocessableEntity, status);
        Assert.NotEmpty(body.ToJsonString());
        Assert.Equal(plan.ToString(), (await app.PlanAsync("CN020")).ToString());
    }

    [Theory]
    [MemberData(nameof(Wrong))]
    public async Task One_that_the_database_gives_back_is_told_on_its_page_and_leads_nowhere(string what)
    {
        string code = $"DB{Array.IndexOf(Ways, what):000}";
        Plan plan = await app.AddShotAsync(code);
        await app.CheckAsync(code);
        string outside = Path.Combine(Path.GetDirectoryName(app.Renders)!, "outside");
        Directory.CreateDirectory(Path.Combine(outside, "sub"));
        File.Copy(
            Path.Combine(app.Renders, code, "sub", $"{code}_sub.1001.exr"),
            Path.Combine(outside, "sub", $"{code}_sub.1001.exr"),
            overwrite: true
        );
        await PutAsync(code, PlanDocument.Write(Spoiled(plan, what)));
        string[] before = Everything();
        foreach (string page in (string[])["plan", "receive", "check", "look", "stack", "crate"])
        {
            await app.GetAsync($"/KELP/{code}/{page}");
        }

        await app.GetAsync("/");
        await app.GetAsync("/KELP/summary");
        foreach (
            string picture in (string[])
                [
                    .. "picture.png probe rebuild.png evidence.png seen tile.png".Split(' '),
                    .. "samples box terms curve mattes sources apart ranked".Split(' '),
                    .. "stack/bits.png stack/bits stack/composite".Split(' '),
                ]
        )
        {
            using HttpResponseMessage answer = await app.Client.GetAsync(
                $"/KELP/{code}/{picture}?layer=sub&pass=beauty&frame=1001&x=3&y=3"
            );
            Assert.True((int)answer.StatusCode < 500, $"{picture}: {answer.StatusCode}");
        }

        await app.PostAsync($"/KELP/{code}/receive", "?handler=Check", ("pixels", "true"));
        await app.UntilAsync($"/KELP/{code}/receive?handler=Progress", text => !text.Contains("Taking in"));
        Assert.Equal(before, Everything());
    }

    [Theory]
    [InlineData("{}")]
    [InlineData("null")]
    [InlineData("not a document")]
    [InlineData(
        """
            {"schema":"dune-crate.plan/1","show":{"code":"KELP"},"shot":{"code":"","frames":"","frameRate":"","width":0,
            "height":0,"version":""},"layers":[{"name":"","outputs":[{"template":"","padding":0}]}]}
            """
    )]
    [InlineData(
        """
            {"schema":"dune-crate.plan/1","show":{"code":"KELP"},"shot":{"code":"x","frames":"1-2147483647","frameRate":"24",
            "width":64,"height":36},"layers":[{"name":"a","outputs":[{"template":"{layer}.{frame}.exr","padding":4,
            "passes":[{"pass":"beauty","channels":["R","G","B"],"type":"half"}]}]}]}
            """
    )]
    [InlineData("""{"schema":"dune-crate.plan/9","shot":null,"layers":null}""")]
    public async Task Whatever_stands_in_the_database_every_page_answers(string json)
    {
        string code = $"ST{Math.Abs(json.GetHashCode(StringComparison.Ordinal)) % 100000:00000}";
        await app.AddShotAsync(code);
        await PutAsync(code, json);
        Assert.Contains(code, await app.GetAsync("/"));
        Assert.Matches("This plan has \\d+ problem", await app.GetAsync($"/KELP/{code}/plan") + await app.GetAsync($"/KELP/{code}/check"));
        foreach (
            string page in (string[])
                ["receive", "check", "look", "stack", "crate", "plan/scene", "plan/files", "plan/estimate", "plan/versions"]
        )
        {
            await app.GetAsync($"/KELP/{code}/{page}");
        }
    }

    [Fact]
    public async Task The_stand_in_farm_writes_only_where_the_shot_lies()
    {
        Plan plan = await app.AddShotAsync("FM010");
        await app.PostAsync("/KELP/FM010/receive", "?handler=Take", ("root", "renders"), ("folder", "FM010"), ("pixels", "false"));
        await app.UntilAsync("/KELP/FM010/receive?handler=Progress", text => !text.Contains("Taking in"));
        await PutAsync("FM010", PlanDocument.Write(plan with { Shot = plan.Shot with { Version = "../../outside" } }));
        string[] before = Everything();
        await app.PostAsync("/KELP/FM010/receive", "?handler=Send", ("frames", "1001"), ("seconds", "0"), ("faults", ""));
        await app.UntilAsync("/KELP/FM010/receive?handler=Farm", text => !text.Contains("rendering"));
        Assert.Empty(Everything().Where(p => !p.Contains("/FM010/", StringComparison.Ordinal)).Except(before));
    }

    /// <summary>Every file and folder but the database and the proxies, which are made in the background.</summary>
    private string[] Everything() =>
        [
            .. Directory
                .GetFileSystemEntries(Path.GetDirectoryName(app.Renders)!, "*", SearchOption.AllDirectories)
                .Where(p => !p.Contains("dune-crate.db", StringComparison.Ordinal))
                .Where(p => !p.StartsWith(Path.Combine(app.Data, "proxies"), StringComparison.Ordinal))
                .Order(StringComparer.Ordinal),
        ];

    /// <summary>Puts a plan into the database as no page would.</summary>
    private async Task PutAsync(string code, string json)
    {
        ShotRow shot = (await app.Service<ShowStore>().ShotAsync("KELP", code))!;
        await using DuneCrateContext context = await app.Service<IDbContextFactory<DuneCrateContext>>().CreateDbContextAsync();
        await context
            .Shots.Where(s => s.Id == shot.Id)
            .ExecuteUpdateAsync(s => s.SetProperty(x => x.PlanJson, json).SetProperty(x => x.Revision, x => x.Revision + 1));
    }

    private static Plan Spoiled(Plan plan, string what)
    {
        LayerPlan first = plan.Layers[0];
        Plan With(LayerPlan layer) => plan with { Layers = plan.Layers.SetItem(0, layer) };
        return what switch
        {
            "layer up" => With(first with { Name = "../../../../x" }),
            "layer absolute" => With(first with { Name = "/etc" }),
            "layer empty" => With(first with { Name = "" }),
            "version" => plan with { Shot = plan.Shot with { Version = "../../outside" } },
            "shot" => plan with { Shot = plan.Shot with { Code = "../KP010" } },
            "show" => plan with { Show = plan.Show with { Code = "..", Name = "x" } },
            "template" => With(
                first with
                {
                    Outputs = first.Outputs.SetItem(
                        0,
                        first.Outputs[0] with
                        {
                            Template = "../outside/{layer}/{shot}_{layer}.{frame}.exr",
                        }
                    ),
                }
            ),
            "pass" => With(
                first with
                {
                    Outputs = first.Outputs.SetItem(
                        0,
                        first.Outputs[0] with
                        {
                            Passes = first.Outputs[0].Passes.SetItem(0, first.Outputs[0].Passes[0] with { Pass = "../../x" }),
                        }
                    ),
                }
            ),
            "frames" => plan with { Shot = plan.Shot with { Frames = FrameSet.Range(1, int.MaxValue) } },
            "many layers" => plan with { Layers = [.. Enumerable.Range(0, 300).Select(i => first with { Name = $"l{i}" })] },
            "long note" => plan with { Shot = plan.Shot with { Camera = new string('c', 100_000) } },
            "control" => plan with { Shot = plan.Shot with { Camera = "cam\u001b[2J" } },
            _ => throw new ArgumentException(what),
        };
    }
}
