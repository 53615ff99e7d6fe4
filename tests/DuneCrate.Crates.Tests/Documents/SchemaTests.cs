using System.Text.Json.Nodes;
using DuneCrate.Checking.Comparing;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Reports;
using DuneCrate.Crates.Deltas;
using DuneCrate.Crates.Recipes;
using DuneCrate.Foundation.Rules;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Listing;

namespace DuneCrate.Crates.Tests.Documents;

/// <summary>
/// What the product writes fits the JSON Schemas that ship in docs/schemas, by the judgement of npm's ajv (JSON Schema draft 2020-12).
/// </summary>
public sealed class SchemaTests : IDisposable
{
    private readonly TempFolder _folder = new();

    public void Dispose() => _folder.Dispose();

    [Fact]
    public void Plans_fit_their_schema()
    {
        Assert.Equal(
            "",
            Complaint("plan", PlanDocument.Write(DuneCrate.StandIns.Renderer.StandInPlan.Create("KP010", FrameSet.Range(1001, 1048))))
        );
    }

    [Fact]
    public void Proposed_stacks_fit_their_schema() =>
        Assert.Equal(
            "",
            Complaint(
                "stack",
                DuneCrate
                    .Planning.Suggestions.StackProposal.From(
                        DuneCrate.StandIns.Demo.DemoPlan.Create("KP010", FrameSet.Range(1001, 1024)),
                        _ => true
                    )
                    .Write()
            )
        );

    [Fact]
    public void A_plan_with_everything_in_it_fits_too()
    {
        Plan plan = DuneCrate.StandIns.Demo.DemoPlan.Create("KP010", FrameSet.Range(1001, 1024));
        plan = new SetTestFrame(1024, 0.5)
        {
            Bytes = new() { ["sub/a.####.exr"] = 1 },
            Ratios = new() { ["sub/beauty"] = 0.5 },
            Seconds = new() { ["sub"] = 1.5 },
            Blockers = 0,
        }.Apply(plan);
        plan = new WriteCells([
            new CellText("sub", "depth", "off float own edge=0.5 frames=1001-1003"),
            new CellText("kelp", "ao", "half own lead filtered"),
        ]).Apply(plan);
        plan = new SetAskedIds("sub", "object_id", "1-5").Apply(plan);
        plan = plan with
        {
            Show = plan.Show with
            {
                Passes = [new PassAddition("caustics", "caustics", PassKind.Light, ["R"], ChannelType.Half, true, "plus", "")],
                Aliases = new() { ["glow"] = "emission" },
                Rules = new()
                {
                    ["plan.depth"] = new RuleSetting
                    {
                        Off = true,
                        Severity = Severity.Note,
                        Thresholds = new() { ["a"] = 1 },
                    },
                },
                Preflight = ["The tide is out"],
                VersionStyle = "v000",
            },
        };
        Assert.Equal("", Complaint("plan", PlanDocument.Write(plan)));
        Assert.Equal(PlanDocument.Write(plan), PlanDocument.Write(PlanDocument.Read(PlanDocument.Write(plan)).Plan!));
    }

    [Fact]
    public void Facts_fit_their_schema_at_both_depths_and_when_broken()
    {
        using var shot = new ShotFixture("truncated:sub:1002", "nonfinite:sub:1003", "empty:kelp:1004");
        foreach (FactsDepth depth in Enum.GetValues<FactsDepth>())
        {
            FileFacts[] facts =
            [
                .. FolderListing
                    .Read(Disk.Folder(shot.Folder), default)
                    .Files.Select(f => FactsReader.Read(f, new FactsRequest(depth), ReadLimits.Default, default)),
            ];
            Assert.Equal("", Complaint("facts", new FactsDocument([.. facts]).Write()));
        }
    }

    [Fact]
    public void Reports_fit_their_schema_with_findings_of_many_kinds_and_waivers()
    {
        using var shot = new ShotFixture(
            "missing:sub:1002",
            "unlit:sub:1003",
            "nonfinite:sub:1004",
            "renamed:kelp:1005",
            "wrong-rate:kelp:1006"
        );
        CheckReport report = shot.Check()
            .With([
                new Waiver
                {
                    Rule = "frames.missing",
                    By = "a wrangler",
                    Reason = "not needed",
                },
            ]);
        Assert.Contains(report.Findings, f => f.Waived is not null);
        Assert.Contains(report.Findings, f => f.At is not null);
        Assert.Equal("", Complaint("report", report.Write()));
        Assert.Equal("", Complaint("report", shot.Check(FactsDepth.Header, withPlan: false).Write()));
    }

    [Fact]
    public void Rerun_lists_fit_their_schema()
    {
        using var shot = new ShotFixture("missing:sub:1002-1007", "black:kelp:1003");
        Assert.Equal("", Complaint("rerun", RerunList.From(shot.Check(), 4, "KP010").Write()));
        Assert.Equal("", Complaint("rerun", RerunList.From(shot.Check(), 0, null).Write()));
    }

    [Fact]
    public void Summaries_of_shows_fit_their_schema()
    {
        using var shot = new ShotFixture("missing:sub:1002-1007", "black:kelp:1003");
        CheckReport report = shot.Check()
            .With([new FindingNote("frames.missing", "sub/KP010_sub.####.exr", null, "farm", "a wrangler", "", DateTime.UnixEpoch)]);
        Assert.Equal("", Complaint("report", report.Write()));
        var state = new ShotState("KP010", FrameMap.From(shot.Plan, report), report, DateTime.UnixEpoch, false, "KP010_crate_v001");
        Assert.Equal(
            "",
            Complaint(
                "show-report",
                ShowReport
                    .From("KELP", "The Kelp Post", [state, new ShotState("KP020", FrameMap.From(shot.Plan, null), null, null, false, null)])
                    .Write()
            )
        );
        Assert.Equal("", Complaint("show-report", ShowReport.From("KELP", "The Kelp Post", []).Write()));
    }

    [Theory]
    [InlineData("{}")]
    [InlineData(
        """
            { "schema": "dune-crate.recipe/1", "receiver": "Tide Room", "files": "per-pass", "compression": "zips",
              "types": { "light": "half", "combined": "half" }, "layout": "{group}/{short}/{short}.{frame}",
              "groups": { "sub": "foreground" }, "short": { "direct_diffuse": "dif" }, "firstFrame": 1001, "padding": 4,
              "window": "display", "alpha": "premultiplied", "only": ["beauty", "depth"], "drop": ["uv"],
              "header": { "frameRate": true, "camera": true, "colourSpace": true },
              "sites": [ { "site": "Tide Room", "prefix": "T:/in/kelp" } ] }
            """
    )]
    public void Recipes_fit_their_schema_and_are_written_as_they_were_read(string recipe)
    {
        Assert.Equal("", Complaint("recipe", recipe));
        string written = CrateRecipe.Read(recipe).Write();
        Assert.Equal("", Complaint("recipe", written));
        Assert.Equal(written, CrateRecipe.Read(written).Write());
        foreach ((string field, JsonNode? value) in JsonNode.Parse(recipe)!.AsObject())
        {
            Assert.Equal(value!.ToJsonString(), JsonNode.Parse(written)![field]!.ToJsonString());
        }
    }

    [Fact]
    public void Crates_that_were_converted_fit_their_schema()
    {
        using var shot = new Converting.DriftShot();
        string recipe = """{ "files": "parts", "types": { "light": "half" }, "firstFrame": 1, "receiver": "Tide Room" }""",
            older = shot.Seal(recipe, _folder["older"]),
            delta = shot.Seal(recipe, _folder["delta"], OntoBase.Read(Disk.Folder(older)));
        foreach (string crate in (string[])[older, delta])
        {
            Assert.Equal("", Complaint("crate", File.ReadAllText(Path.Combine(crate, "crate.json"))));
        }
    }

    [Fact]
    public void Crates_fit_their_schema()
    {
        using var shot = new ShotFixture("missing:sub:1002");
        Waiver waiver = new()
        {
            Rule = "frames.missing",
            By = "a wrangler",
            Reason = "not needed",
        };
        (IntakeResult intake, CheckReport report) = Disk.Check(shot.Folder, shot.Plan, FactsDepth.Pixels, new NoFactsCache());
        string crate = CrateBuilder
            .Seal(
                Disk.Contents(shot.Plan, intake) with
                {
                    Notes = DuneCrate.StandIns.Demo.DemoNotes.All,
                },
                report.With([waiver]),
                Disk.Folder(_folder["out"]),
                Guid.NewGuid(),
                null,
                default
            )
            .Folder.FullPath;
        string json = File.ReadAllText(Path.Combine(crate, "crate.json"));
        Assert.Equal("", Complaint("crate", json));
        Assert.Equal(
            DuneCrate.StandIns.Demo.DemoNotes.All.Select(n => n.Words),
            CrateManifest.Read(json).Notes!.Value.Select(n => n.Words)
        );
        string slip = File.ReadAllText(Path.Combine(crate, "slip.html"));
        Assert.Contains("seabed beauty <code>1010</code>, pixel 240, 200", slip);
        Assert.Contains("settled by Lighter", slip);
        Assert.True(slip.IndexOf("box 181 × 121 at 150, 70", StringComparison.Ordinal) < slip.IndexOf("1010", StringComparison.Ordinal));
    }

    [Fact]
    public void The_waivers_of_the_guide_fit_their_schema_and_are_read()
    {
        const string text = """
            { "schema": "dune-crate.waivers/1", "waivers": [ { "rule": "frames.missing", "layer": "sub",
            "frames": "1001-1004", "by": "a wrangler", "reason": "cut from the edit" } ] }
            """;
        Assert.Equal("", Complaint("waivers", text));
        File.WriteAllText(_folder["waivers.json"], text);
        Assert.Single(WaiverDocument.ReadFile(Disk.File(_folder["waivers.json"])));
    }

    [Fact]
    public void Comparisons_fit_their_schema()
    {
        var odd = new ChannelDifference("R", 0.5, 0.1, 0.2, 14, 0.25, [3, 4]) { Odd = 2 };
        var document = new ComparisonDocument(
            0.01,
            false,
            ["a.exr"],
            [],
            [new FileDifference("b.exr", "b.exr", false, [odd, new ChannelDifference("G", 0, 0, 0, null, 0, null)], ["only in b.exr: Z"])]
        );
        Assert.Equal("", Complaint("comparison", document.Write()));
    }

    [Theory]
    [InlineData("plan", "shot", "frames", "1010-")]
    [InlineData("plan", "shot", "frameRate", "23.976")]
    [InlineData("plan", "show", "code", "no spaces")]
    public void The_schema_refuses_what_is_wrong(string schema, string parent, string field, string value)
    {
        JsonNode plan = JsonNode.Parse(
            PlanDocument.Write(DuneCrate.StandIns.Renderer.StandInPlan.Create("KP010", FrameSet.Range(1001, 1048)))
        )!;
        plan[parent]![field] = value;
        Assert.Contains($"/{parent}/{field}", Complaint(schema, plan.ToJsonString()));
    }

    private string Complaint(string schema, string document) => Schemas.Complaint(_folder[$"{Guid.NewGuid():N}.json"], schema, document);
}
