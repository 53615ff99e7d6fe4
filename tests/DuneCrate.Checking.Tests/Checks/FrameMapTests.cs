using System.Collections.Immutable;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Reports;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Tests.Checks;

/// <summary>The state of every frame, what a filter leaves of map and findings, and in which order.</summary>
public class FrameMapTests
{
    private const string Sub = "sub/KP010_sub.####.exr",
        Kelp = "kelp/KP010_kelp.####.exr";

    private static readonly Plan Planned = new()
    {
        Show = new ShowPlan { Code = "KELP" },
        Shot = new ShotPlan { Code = "KP010", Frames = FrameSet.Parse("1-10") },
        Layers = [Layer("sub", "beauty", "depth"), Layer("kelp", "beauty")],
    };

    private static readonly CheckReport Report = ReportWith(
        Found("frames.missing", Severity.Blocker, Sub, "sub", null, "4-5"),
        Found("pixels.nonfinite", Severity.Blocker, Sub, "sub", "beauty", "2"),
        Found("files.size", Severity.Warning, Sub, "sub", null, "2,7"),
        Found("files.settling", Severity.Note, Kelp, "kelp", null, "10", RemedyKind.Wait),
        Found("frames.extra", Severity.Warning, Kelp, "kelp", null, "12"),
        Found("pixels.flicker", Severity.Warning, Kelp, "kelp", "beauty", "3-4")
    );

    [Fact]
    public void Every_frame_has_its_worst_state()
    {
        ImmutableArray<FrameMapRow> lanes = FrameMap.From(Planned, Report);
        Assert.Equal("Good 1,3,6,8-10|Suspect 7|Damaged 2|Missing 4-5", Text(lanes[0]));
        Assert.Equal("Good 1-2,5-9|Unplanned 12|Settling 10|Suspect 3-4", Text(lanes[1]));
        Assert.Equal((FrameState.Missing, FrameState.Suspect), (lanes[0].Worst, lanes[1].Worst));
        Assert.Equal(FrameState.Damaged, lanes[0].At(2));
        Assert.Null(lanes[0].At(11));
        Assert.Equal("1-3,6-10", lanes[0].There.ToString());
    }

    [Fact]
    public void Before_a_check_everything_is_pending() =>
        Assert.All(FrameMap.From(Planned, null), l => Assert.Equal("Pending 1-10", Text(l)));

    [Fact]
    public void What_is_waived_is_good()
    {
        CheckReport waived = Report.With([
            new Waiver
            {
                Rule = "pixels.nonfinite",
                By = "a wrangler",
                Reason = "behind the title",
            },
            new Waiver
            {
                Rule = "files.size",
                By = "a wrangler",
                Reason = "smoke",
            },
        ]);
        Assert.Equal("Good 1-3,6-10|Missing 4-5", Text(FrameMap.From(Planned, waived)[0]));
    }

    [Theory]
    [InlineData("", "sub: Good 1,3,6,8-10|Suspect 7|Damaged 2|Missing 4-5; kelp: Good 1-2,5-9|Unplanned 12|Settling 10|Suspect 3-4")]
    [InlineData("layer kelp", "kelp: Good 1-2,5-9|Unplanned 12|Settling 10|Suspect 3-4")]
    [InlineData("pass depth", "sub: Good 1,3,6,8-10|Suspect 7|Damaged 2|Missing 4-5")]
    [InlineData("rule files.size", "sub: Good 1,3,6,8-10|Suspect 7|Damaged 2")]
    [InlineData("rule frames.missing", "sub: Good 1,3,6,8-10|Other 2,7|Missing 4-5")]
    [InlineData("severity note", "kelp: Good 1-2,5-9|Other 3-4,12|Settling 10")]
    [InlineData("state missing", "sub: Good 1,3,6,8-10|Other 2,7|Missing 4-5")]
    [InlineData("state suspect", "sub: Good 1,3,6,8-10|Other 2|Suspect 7; kelp: Good 1-2,5-9|Other 10,12|Suspect 3-4")]
    [InlineData("words flicker", "kelp: Good 1-2,5-9|Other 10,12|Suspect 3-4")]
    [InlineData("rule files.copy", "")]
    public void A_filter_leaves_lanes_and_the_frames_in_question(string filter, string left) =>
        Assert.Equal(
            left,
            string.Join("; ", FrameMap.Only(FrameMap.From(Planned, Report), Report, Filter(filter)).Select(l => $"{l.Layer}: {Text(l)}"))
        );

    [Theory]
    [InlineData("", "frames.missing pixels.nonfinite files.size files.settling frames.extra pixels.flicker")]
    [InlineData("layer kelp", "files.settling frames.extra pixels.flicker")]
    [InlineData("pass depth", "frames.missing files.size")]
    [InlineData("severity warning", "files.size frames.extra pixels.flicker")]
    [InlineData("state unplanned", "frames.extra")]
    [InlineData("state settling", "files.settling")]
    [InlineData("words 7", "files.size")]
    [InlineData("words SUB missing", "frames.missing")]
    [InlineData("words lighting", "pixels.flicker")]
    [InlineData("words nothing-like-it", "")]
    public void A_filter_leaves_findings(string filter, string left)
    {
        ImmutableArray<Finding> handed = Report
            .With([new FindingNote("pixels.flicker", Kelp, "beauty", "Lighting", "a wrangler", "please look", DateTime.UnixEpoch)])
            .Findings;
        var passes = new Dictionary<string, string[]> { [Sub] = ["beauty", "depth"], [Kelp] = ["beauty"] };
        Assert.Equal(left, string.Join(' ', handed.Where(f => Filter(filter).Takes(f, o => passes[o])).Select(f => f.Rule)));
    }

    [Theory]
    [InlineData(FindingOrder.Severity, "frames.missing pixels.nonfinite files.size frames.extra pixels.flicker files.settling")]
    [InlineData(FindingOrder.Frame, "pixels.nonfinite files.size pixels.flicker frames.missing files.settling frames.extra")]
    [InlineData(FindingOrder.Layer, "files.settling frames.extra pixels.flicker frames.missing files.size pixels.nonfinite")]
    [InlineData(FindingOrder.Rule, "files.settling files.size frames.extra frames.missing pixels.flicker pixels.nonfinite")]
    [InlineData(FindingOrder.Count, "frames.missing files.size pixels.flicker pixels.nonfinite files.settling frames.extra")]
    public void Findings_are_listed_in_an_order(FindingOrder order, string listed) =>
        Assert.Equal(listed, string.Join(' ', FindingFilter.All.Apply(Report.Findings, order).Select(f => f.Rule)));

    [Fact]
    public void A_note_stays_with_its_finding_while_its_frames_change()
    {
        var note = new FindingNote("files.size", Sub, null, "Lighting", "a wrangler", "is that smoke?", DateTime.UnixEpoch);
        Assert.Equal("Lighting", Report.With([note]).Findings.Single(f => f.Handed is not null).Handed!.To);
        Assert.Equal(
            "files.size",
            ReportWith(Found("files.size", Severity.Warning, Sub, "sub", null, "9"))
                .With([note])
                .Findings.Single(f => f.Handed is not null)
                .Rule
        );
        Assert.Equal("Comp", Report.With([note, note with { To = "Comp" }]).Findings.Single(f => f.Handed is not null).Handed!.To);
        Assert.DoesNotContain(Report.With([note with { Pass = "beauty" }]).Findings, f => f.Handed is not null);
        Assert.Contains("\"handed\"", Report.With([note]).Write());
        Assert.DoesNotContain("\"handed\"", Report.Write());
    }

    private static FindingFilter Filter(string text)
    {
        string value = text[(text.IndexOf(' ') + 1)..];
        return text.Split(' ')[0] switch
        {
            "layer" => new FindingFilter { Layer = value },
            "pass" => new FindingFilter { Pass = value },
            "rule" => new FindingFilter { Rule = value },
            "severity" => new FindingFilter { Severity = Enum.Parse<Severity>(value, ignoreCase: true) },
            "state" => new FindingFilter { State = Enum.Parse<FrameState>(value, ignoreCase: true) },
            "words" => new FindingFilter { Words = value },
            _ => FindingFilter.All,
        };
    }

    private static string Text(FrameMapRow lane) => string.Join('|', lane.Runs.Select(r => $"{r.State} {r.Frames}"));

    private static LayerPlan Layer(string name, params string[] passes) =>
        new()
        {
            Name = name,
            Outputs =
            [
                new OutputPlan
                {
                    Template = "{layer}/{shot}_{layer}.{frame}.exr",
                    Passes = [.. passes.Select(p => new PassPlan { Pass = p })],
                },
            ],
        };

    private static Finding Found(
        string rule,
        Severity severity,
        string output,
        string layer,
        string? pass,
        string frames,
        RemedyKind kind = RemedyKind.Look
    ) => TestFindings.Make(rule, severity, output, layer, pass, FrameSet.Parse(frames), kind);

    private static CheckReport ReportWith(params Finding[] findings) =>
        new()
        {
            Root = "/renders/KP010",
            Depth = FactsDepth.Pixels,
            Sequences =
            [
                new SequenceSummary(Sub, "sub", FrameSet.Parse("1-3,6-10"), FrameSet.Parse("4-5"), 4, 8, 800, 96, 54),
                new SequenceSummary(Kelp, "kelp", FrameSet.Parse("1-10,12"), FrameSet.Empty, 4, 11, 1100, 96, 54),
            ],
            Findings = [.. findings],
            Rerun = RerunEntry.From(findings),
            Summary = new CheckSummary(0, 0, 0, 19, 1900, 1).Count(findings),
        };
}
