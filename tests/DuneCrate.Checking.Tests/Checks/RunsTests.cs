using System.Text.Json.Nodes;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Reports;
using DuneCrate.Checking.Rules;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Tests.Checks;

/// <summary>Checks compared, rerun lists in portions, the report as a page, plans from files, and the statistics behind series.</summary>
public class RunsTests
{
    [Fact]
    public void Two_checks_are_compared_frame_by_frame()
    {
        CheckReport before = Report(Finding("frames.missing", "1001-1004"), Finding("files.size", "1007")),
            after = Report(Finding("frames.missing", "1003-1006"), Finding("format.rate", ""));
        Assert.Equal(
            [
                "New frames.missing 1005-1006",
                "New format.rate ",
                "Still frames.missing 1003-1004",
                "Fixed frames.missing 1001-1002",
                "Fixed files.size 1007",
            ],
            RunComparison.Compute(before, after).Select(c => $"{c.Change} {c.Finding.Rule} {c.Frames}")
        );
        Assert.All(RunComparison.Compute(after, after), c => Assert.Equal(FindingChange.Still, c.Change));
        Assert.All(RunComparison.Compute(before, Report()), c => Assert.Equal(FindingChange.Fixed, c.Change));
    }

    [Theory]
    [InlineData(0, "sub 1001-1004,1007,1010")]
    [InlineData(4, "sub 1001-1004|sub 1007,1010")]
    [InlineData(5, "sub 1001-1004,1007|sub 1010")]
    [InlineData(1, "sub 1001|sub 1002|sub 1003|sub 1004|sub 1007|sub 1010")]
    public void A_rerun_list_is_cut_into_the_farms_portions(int chunk, string portions)
    {
        var list = RerunList.From(Report(Finding("frames.missing", "1001-1004"), Finding("pixels.black", "1007,1010")), chunk, "KP010");
        Assert.Equal(portions, list.WriteText().TrimEnd('\n').Replace('\n', '|'));
        JsonNode document = JsonNode.Parse(list.Write())!;
        Assert.Equal(("dune-crate.rerun/1", chunk), ((string)document["schema"]!, (int)document["chunk"]!));
        Assert.Equal(6, document["portions"]!.AsArray().Sum(p => (int)p!["count"]!));
    }

    [Fact]
    public void The_report_is_one_page_without_script_and_with_nothing_beside_it()
    {
        string page = ReportPage.Write(Report(Finding("frames.missing", "1001-1004") with { Message = "<b>&</b>" }), "Check of KP010");
        Assert.Contains("&lt;b&gt;&amp;&lt;/b&gt;", page);
        Assert.DoesNotContain("<script", page);
        Assert.DoesNotMatch("(src|href)=", page);
        Assert.Contains("1001-1004", page);
    }

    [Fact]
    public void A_plan_made_from_clean_files_finds_nothing_wrong_with_them()
    {
        using var shot = new ShotFixture();
        var intake = Disk.TakeIn(shot.Folder, null, FactsDepth.Header);
        Plan guess = PlanGuess.From(intake, new ShowPlan { Code = "KELP" }, "KP010")!;
        Assert.Equal(
            (ShotFixture.AllFrames, 96, 54, "cam_main", "24 fps"),
            (guess.Shot.Frames.ToString(), guess.Shot.Width, guess.Shot.Height, guess.Shot.Camera, guess.Shot.FrameRate.ToDisplay())
        );
        Assert.Equal(
            shot.Plan.Layers.SelectMany(l => l.Passes).Select(p => p.Pass).Distinct().Order(),
            guess.Layers.SelectMany(l => l.Passes).Select(p => p.Pass).Distinct().Order()
        );
        shot.Plan = PlanDocument.Read(PlanDocument.Write(guess)).Plan!;
        Assert.Empty(shot.Check(FactsDepth.Header).Findings);
    }

    [Fact]
    public void A_plan_from_files_plans_the_frames_that_are_missing_inside_too()
    {
        using var shot = new ShotFixture("missing:sub:1004-1005");
        shot.Plan = PlanGuess.From(Disk.TakeIn(shot.Folder, null, FactsDepth.Header), new ShowPlan { Code = "KELP" }, "KP010")!;
        Assert.Equal("1004-1005", Assert.Single(shot.Check(FactsDepth.Header).Findings, f => f.Rule == "frames.missing").Frames.ToString());
    }

    [Fact]
    public void A_stray_number_far_away_does_not_make_the_planned_shot_endless()
    {
        using var shot = new ShotFixture();
        string first = shot[PlannedOutput.From(shot.Plan)[0].Name.At(1001)];
        File.Copy(first, first.Replace("1001", "1999999999", StringComparison.Ordinal));
        Plan guess = PlanGuess.From(Disk.TakeIn(shot.Folder, null, FactsDepth.Header), new ShowPlan { Code = "KELP" }, "KP010")!;
        Assert.Equal("1001-1012,1999999999", guess.Shot.Frames.ToString());
        Assert.Equal(["padding"], PlanValidation.Check(guess).Select(p => p.Field.Split('.')[^1]));
    }

    [Fact]
    public void No_plan_is_made_from_a_folder_without_pictures()
    {
        using var folder = new TempFolder();
        Assert.Null(PlanGuess.From(Disk.TakeIn(folder.Path, null, FactsDepth.Header), new ShowPlan { Code = "KELP" }, "KP010"));
    }

    /// <summary>
    /// Median absolute deviation of 1 1 2 2 4 6 9 is 1 about the median 2: the usual worked example of the statistic; times 1.4826.
    /// </summary>
    [Fact]
    public void The_scaled_deviation_is_the_published_one() => Assert.Equal(1.4826, Outliers.ScaledDeviation([1, 1, 2, 2, 4, 6, 9]), 1e-12);

    [Fact]
    public void The_scale_makes_the_deviation_of_normal_data_its_standard_deviation()
    {
        // Quantiles of the standard normal distribution by the Box-Muller transform of a fixed grid, deviation 1.
        double[] normal =
        [
            .. Enumerable
                .Range(1, 200)
                .SelectMany(i =>
                    Enumerable.Range(0, 50).Select(k => Math.Sqrt(-2 * Math.Log((i - 0.5) / 200)) * Math.Cos(2 * Math.PI * (k + 0.5) / 50))
                ),
        ];
        Assert.Equal(1, Outliers.ScaledDeviation(normal), 0.02);
    }

    [Fact]
    public void A_lone_jump_is_an_outlier_and_a_slope_or_a_step_is_none()
    {
        double[] slope = [.. Enumerable.Range(0, 20).Select(i => 1 + 0.1 * i)],
            flat = [.. Enumerable.Repeat(1d, 20)];
        Assert.Empty(Outliers.Find(slope, 7, 6, 0.02));
        Assert.Empty(Outliers.Find(flat, 7, 6, 0.02));
        flat[9] = 1.2;
        Assert.Equal([9], Outliers.Find(flat, 7, 6, 0.02));
        slope[9] *= 2;
        Assert.Equal([9], Outliers.Find(slope, 7, 6, 0.02));
        Assert.Empty(Outliers.Find(slope[..5], 7, 6, 0.02));
    }

    private static CheckReport Report(params Finding[] findings) =>
        new()
        {
            Root = "/x",
            Depth = FactsDepth.Pixels,
            Sequences = [],
            Findings = [.. findings],
            Rerun = RerunEntry.From(findings),
            Summary = new CheckSummary(0, 0, 0, 1, 1, 0).Count(findings),
        };

    private static Finding Finding(string rule, string frames) =>
        new()
        {
            Rule = rule,
            Severity = Severity.Blocker,
            Output = "sub/KP010_sub.####.exr",
            Layer = "sub",
            Frames = frames.Length == 0 ? FrameSet.Empty : FrameSet.Parse(frames),
            Expected = "e",
            Found = "f",
            Message = "m",
            Remedy = "r",
            RemedyKind = RemedyKind.Rerender,
        };
}
