using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Reports;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Tests.Checks;

/// <summary>
/// The summary of a show: numbers add up, what is waived is left out, what is handed over is listed, and the three forms say the same.
/// </summary>
public class ShowReportTests
{
    private static readonly Plan Planned = new()
    {
        Show = new ShowPlan { Code = "KELP" },
        Shot = new ShotPlan { Code = "KP010", Frames = FrameSet.Parse("1-10") },
        Layers =
        [
            new LayerPlan
            {
                Name = "sub",
                Outputs = [new OutputPlan { Template = "{layer}/{shot}.{frame}.exr", Passes = [new PassPlan { Pass = "beauty" }] }],
            },
        ],
    };

    private static readonly ShowReport Report = ShowReport.From(
        "KELP",
        "The Kelp Post",
        [
            State("KP030", null),
            State(
                "KP010",
                ReportWith(
                    "1-8",
                    Found("frames.missing", Severity.Blocker, "9-10", RemedyKind.Rerender),
                    Found("files.size", Severity.Warning, "3")
                )
            ) with
            {
                Crate = "KP010_crate_v002",
            },
            State(
                "KP020",
                ReportWith(
                        "1-10",
                        Found("files.size", Severity.Warning, "4-6"),
                        Found("pixels.black", Severity.Blocker, "2", RemedyKind.Rerender)
                    )
                    .With([
                        new Waiver
                        {
                            Rule = "pixels.black",
                            By = "a wrangler",
                            Reason = "night",
                        },
                    ])
                    .With([
                        new FindingNote(
                            "files.size",
                            "sub/KP010.####.exr",
                            null,
                            "Lighting",
                            "a wrangler",
                            "is that smoke?",
                            DateTime.UnixEpoch
                        ),
                    ])
            ) with
            {
                IsStale = true,
            },
        ]
    );

    [Fact]
    public void Shots_stand_by_code_with_their_numbers() =>
        Assert.Equal(
            ["KP010 10 8 2 b1 w1 v0 r2 KP010_crate_v002", "KP020 10 10 0 b0 w1 v1 r0 ", "KP030 10 0 0 b0 w0 v0 r0 "],
            Report.Shots.Select(s =>
                $"{s.Shot} {s.Planned} {s.Here} {s.Missing} b{s.Blockers} w{s.Warnings} v{s.Waived} r{s.Rerun} {s.Crate}"
            )
        );

    [Fact]
    public void Totals_are_the_sums_of_the_lines()
    {
        ShowTotals t = Report.Totals;
        Assert.Equal(
            (3, 2, 30L, 18L, 2L, 1, 2, 1, 2L),
            (t.Shots, t.Checked, t.Planned, t.Here, t.Missing, t.Blockers, t.Warnings, t.Waived, t.Rerun)
        );
        Assert.Equal(Report.Shots.Sum(s => s.Bytes), t.Bytes);
    }

    [Fact]
    public void Rules_are_listed_worst_first_and_without_what_is_waived() =>
        Assert.Equal(
            ["frames.missing Blocker 1 2 KP010", "files.size Warning 2 4 KP010 KP020"],
            Report.Rules.Select(r => $"{r.Rule} {r.Severity} {r.Findings} {r.Frames} {string.Join(' ', r.Shots)}")
        );

    [Fact]
    public void What_is_in_somebodys_hands_is_listed_by_person()
    {
        HandsLine line = Assert.Single(Report.Hands);
        Assert.Equal(
            ("Lighting", "KP020", "files.size", "4-6", "is that smoke?"),
            (line.To, line.Findings[0].Shot, line.Findings[0].Rule, line.Findings[0].Frames.ToString(), line.Findings[0].Note)
        );
    }

    [Fact]
    public void Page_and_csv_say_what_the_document_says()
    {
        string page = ShowReportPage.Write(Report),
            csv = ReportCsv.Shots(Report);
        Assert.DoesNotContain("<script", page);
        Assert.DoesNotMatch("(src|href)=", page);
        Assert.Contains("2 of 3 shots checked", page);
        Assert.Contains("the plan changed since", page);
        Assert.Contains("is that smoke?", page);
        Assert.Equal(4, csv.TrimEnd().Split('\n').Length);
        Assert.Contains("KP010,1970-01-01T00:00:00Z,pixels,no,10,8,2,", csv);
        Assert.Contains("KP030,,,no,10,0,0,0,0,0,0,0,0,0,", csv);
    }

    [Fact]
    public void A_show_without_shots_has_a_summary() =>
        Assert.Contains("0 of 0 shots", ShowReportPage.Write(ShowReport.From("KELP", "The Kelp Post", [])));

    private static ShotState State(string code, CheckReport? report) =>
        new(code, FrameMap.From(Planned, report), report, report is null ? null : DateTime.UnixEpoch, false, null);

    private static Finding Found(string rule, Severity severity, string frames, RemedyKind kind = RemedyKind.Look) =>
        TestFindings.Make(rule, severity, "sub/KP010.####.exr", "sub", null, FrameSet.Parse(frames), kind);

    private static CheckReport ReportWith(string frames, params Finding[] findings)
    {
        var found = FrameSet.Parse(frames);
        return new CheckReport
        {
            Root = "/renders",
            Depth = FactsDepth.Pixels,
            Sequences =
            [
                new SequenceSummary(
                    "sub/KP010.####.exr",
                    "sub",
                    found,
                    FrameSet.Parse("1-10").Except(found),
                    4,
                    found.Count,
                    found.Count * 1000,
                    96,
                    54
                ),
            ],
            Findings = [.. findings],
            Rerun = RerunEntry.From(findings),
            Summary = new CheckSummary(0, 0, 0, found.Count, found.Count * 1000, 1).Count(findings),
        };
    }
}
