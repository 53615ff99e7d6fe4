using System.Text.Json.Nodes;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Reports;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Tests.Checks;

public class ReportTests
{
    private static readonly string[] Trouble =
    [
        "missing:sub:1002",
        "half-depth:sub:1003",
        "nonfinite:sub:1004",
        "truncated:sub:1005",
        "copy:kelp:1006",
        "repadded:kelp:1008",
    ];

    [Fact]
    public void Findings_are_ordered_by_severity_output_rule_and_frame()
    {
        using var shot = new ShotFixture(Trouble);
        CheckReport report = shot.Check();
        var keys = report.Findings.Select(f => (f.Severity, f.Output, f.Rule)).ToArray();
        Assert.Equal(
            keys.OrderBy(k => k.Severity).ThenBy(k => k.Output, StringComparer.Ordinal).ThenBy(k => k.Rule, StringComparer.Ordinal),
            keys
        );
        Assert.Equal([("kelp", "1006"), ("sub", "1002-1005")], report.Rerun.Select(r => (r.Layer, r.Frames.ToString())));
        Assert.Equal((4, 2, 0), (report.Summary.Blockers, report.Summary.Warnings, report.Summary.Notes));
    }

    [Fact]
    public void The_same_input_gives_the_same_bytes_whatever_the_order_of_facts()
    {
        using var shot = new ShotFixture(Trouble);
        var intake = Disk.Check(shot.Folder, shot.Plan, FactsDepth.Pixels, new NoFactsCache()).Intake;
        var turned = intake with { Facts = System.Collections.Immutable.ImmutableDictionary.CreateRange(intake.Facts.Reverse()) };
        Assert.Equal(
            FolderCheck.Judge(new CheckContext(shot.Plan, intake)).Write(),
            FolderCheck.Judge(new CheckContext(shot.Plan, turned)).Write()
        );
    }

    [Fact]
    public void The_document_has_the_fields_of_the_contract()
    {
        using var shot = new ShotFixture("missing:sub:1011");
        JsonNode report = JsonNode.Parse(shot.Check(FactsDepth.Header).Write())!;
        Assert.Equal("dune-crate.report/1", (string?)report["schema"]);
        Assert.Equal("header", (string?)report["depth"]);
        JsonNode sequence = report["sequences"]!.AsArray().Single(s => (string?)s!["name"] == "sub/KP010_sub.####.exr")!;
        Assert.Equal(
            ("sub", "1001-1010,1012", "1011", 4, 11, 96, 54),
            (
                (string?)sequence["layer"],
                (string?)sequence["frames"],
                (string?)sequence["missing"],
                (int)sequence["padding"]!,
                (int)sequence["files"]!,
                (int)sequence["width"]!,
                (int)sequence["height"]!
            )
        );
        JsonNode finding = report["findings"]![0]!;
        Assert.Equal(
            ("frames.missing", "blocker", "1011", "1001-1012", "1001-1010,1012"),
            (
                (string?)finding["rule"],
                (string?)finding["severity"],
                (string?)finding["frames"],
                (string?)finding["expected"],
                (string?)finding["found"]
            )
        );
        Assert.True(finding.AsObject().ContainsKey("pass") && finding.AsObject().ContainsKey("waived"));
        Assert.Equal("""[{"layer":"sub","frames":"1011"}]""", report["rerun"]!.ToJsonString());
    }

    [Fact]
    public void Csv_has_a_line_per_finding_and_quotes_what_needs_it()
    {
        using var shot = new ShotFixture("8-bit:sub:1003");
        CheckReport report = shot.Check();
        string[] lines = ReportCsv.Findings(report).TrimEnd().Split('\n');
        Assert.StartsWith("rule,severity,output,layer,pass,frames", lines[0]);
        Assert.Equal(report.Findings.Length + 1, lines.Length);
        Assert.Contains(lines, l => l.Contains("\"beauty, direct_diffuse"));
        Assert.Equal("layer,frames,count\nsub,1003,1\n", ReportCsv.Rerun(report));
    }

    [Fact]
    public void A_waived_finding_blocks_no_more_and_leaves_the_rerun_list()
    {
        using var shot = new ShotFixture("nonfinite:sub:1004");
        CheckReport waived = shot.Check()
            .With([
                new Waiver
                {
                    Rule = "pixels.nonfinite",
                    Layer = "sub",
                    Frames = FrameSet.Parse("1004"),
                    By = "Ada Reed",
                    Reason = "covered by the title",
                },
            ]);
        Assert.Equal("Ada Reed", waived.Findings[0].Waived!.By);
        Assert.Equal(0, waived.Summary.Blockers);
        Assert.Empty(waived.Rerun);
    }

    [Theory]
    [InlineData("1004", null, null, true)]
    [InlineData("1003-1009", null, null, true)]
    [InlineData("1003", null, null, false)]
    [InlineData(null, "sub/KP010_sub.####.exr", null, true)]
    [InlineData(null, "other.####.exr", null, false)]
    [InlineData(null, null, "depth", false)]
    public void A_waiver_covers_what_it_says(string? frames, string? output, string? pass, bool covers)
    {
        var finding = new Finding
        {
            Rule = "pixels.nonfinite",
            Severity = Severity.Blocker,
            Output = "sub/KP010_sub.####.exr",
            Layer = "sub",
            Pass = "beauty",
            Frames = FrameSet.Single(1004),
            Expected = "",
            Found = "",
            Message = "",
            Remedy = "",
        };
        var waiver = new Waiver
        {
            Rule = "pixels.nonfinite",
            Output = output,
            Pass = pass,
            Frames = frames is null ? null : FrameSet.Parse(frames),
            By = "a",
            Reason = "b",
        };
        Assert.Equal(covers, waiver.Covers(finding));
    }

    [Fact]
    public void Waiver_files_need_names_and_reasons()
    {
        using var folder = new TempFolder();
        File.WriteAllText(
            folder["good.json"],
            """
            {"schema":"dune-crate.waivers/1","waivers":[{"rule":"frames.extra","layer":"sub","frames":"1","by":"Ada Reed",
            "reason":"handles"}]}
            """
        );
        File.WriteAllText(
            folder["nobody.json"],
            """{"schema":"dune-crate.waivers/1","waivers":[{"rule":"frames.extra","by":" ","reason":"x"}]}"""
        );
        File.WriteAllText(folder["broken.json"], "{");
        Assert.Equal("handles", Assert.Single(WaiverDocument.ReadFile(Disk.File(folder["good.json"]))).Reason);
        Assert.Throws<FormatException>(() => WaiverDocument.ReadFile(Disk.File(folder["nobody.json"])));
        Assert.Throws<FormatException>(() => WaiverDocument.ReadFile(Disk.File(folder["broken.json"])));
    }

    [Fact]
    public void The_frame_map_shows_every_frame_in_its_state()
    {
        using var shot = new ShotFixture(
            "missing:sub:1002",
            "truncated:sub:1005",
            "repadded:sub:1008",
            "renamed:sub:1010",
            "empty:kelp:1003"
        );
        var lanes = FrameMap.From(shot.Plan, shot.Check());
        FrameMapRow sub = lanes[0],
            kelp = lanes.First(l => l.Layer == "kelp");
        Assert.Equal(FrameState.Missing, sub.At(1002));
        Assert.Equal(FrameState.Damaged, sub.At(1005));
        Assert.Equal(FrameState.Suspect, sub.At(1008));
        Assert.Equal(FrameState.Suspect, sub.At(1010));
        Assert.Equal(FrameState.Good, sub.At(1001));
        Assert.Equal(FrameState.Missing, sub.Worst);
        Assert.Equal(FrameState.Settling, kelp.At(1003));
        Assert.Null(sub.At(2000));
        Assert.All(lanes, l => Assert.Equal(12, l.Runs.Sum(r => r.Frames.LongCount)));
        Assert.All(FrameMap.From(shot.Plan, null), l => Assert.Equal(FrameState.Pending, l.Worst));
    }
}
