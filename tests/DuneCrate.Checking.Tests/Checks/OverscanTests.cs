using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Remedies;
using DuneCrate.Checking.Reports;
using DuneCrate.Checking.Rules;
using DuneCrate.Crates;
using DuneCrate.Exr;
using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Estimates;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.Checking.Tests.Checks;

/// <summary>Overscan, from the plan over the stand-in's files to the rule, the guess, the estimate and the crate.</summary>
public sealed class OverscanTests : IDisposable
{
    private const int Overscan = 8,
        Width = 96,
        Height = 54;

    private static readonly Plan With = StandInPlan.Create("KP010", FrameSet.Parse("1001-1003"), Width, Height) is var plan
        ? plan with
        {
            Shot = plan.Shot with { Overscan = Overscan },
        }
        : null!;

    private readonly TempFolder _folder = new();

    public OverscanTests() => Disk.Render(With, _folder.Path, null, []);

    public void Dispose() => _folder.Dispose();

    [Fact]
    public void Planned_overscan_is_no_finding_at_any_depth() =>
        Assert.DoesNotContain(Check(With, FactsDepth.Pixels).Findings, f => f.Severity != Severity.Note);

    /// <summary>
    /// The windows as the reference library's exrheader reads them. Source: OpenEXR file layout, dataWindow and displayWindow.
    /// </summary>
    [Fact]
    public void The_stand_in_writes_the_windows_that_are_planned()
    {
        string header = Tool.Run("exrheader", _folder[PlannedOutput.From(With)[0].Name.At(1001)]);
        Assert.Contains($"dataWindow (type box2i): (-8 -8) - ({Width + Overscan - 1} {Height + Overscan - 1})", header);
        Assert.Contains($"displayWindow (type box2i): (0 0) - ({Width - 1} {Height - 1})", header);
    }

    [Fact]
    public void Inside_the_picture_overscan_changes_no_data_pass()
    {
        using var plain = new TempFolder();
        Plan without = With with { Shot = With.Shot with { Overscan = 0 } };
        Disk.Render(without, plain.Path, FrameSet.Single(1001), []);
        string name = PlannedOutput.From(With).First(o => o.Layer.Name == "sub" && o.Passes.Any(p => p.Pass == "depth")).Name.At(1001);
        (ExrImage wide, ExrImage narrow) = (Depth(_folder[name]), Depth(plain[name]));
        int stride = Width + 2 * Overscan;
        Assert.All(
            Enumerable.Range(0, Height),
            y =>
                Assert.Equal(
                    narrow.Planes["Z"][(y * Width)..((y + 1) * Width)],
                    wide.Planes["Z"].AsSpan((y + Overscan) * stride + Overscan, Width).ToArray()
                )
        );
    }

    [Theory]
    [InlineData(0, "overscan", "has no", "Plan the overscan")]
    [InlineData(4, "overscan", "more pixels outside the picture than the 4 planned", "Tell the compositor")]
    [InlineData(16, "too little overscan", "not all of the overscan; 16 pixels are planned", "Switch the overscan on")]
    public void Other_overscan_than_planned_is_a_warning(int planned, string found, string message, string remedy)
    {
        Finding[] findings = [.. Check(Planned(planned)).Findings.Where(f => f.Rule == "format.data-window")];
        Assert.Equal(PlannedOutput.From(With).Length, findings.Length);
        Assert.All(
            findings,
            f =>
            {
                Assert.Equal((Severity.Warning, "1001-1003"), (f.Severity, f.Frames.ToString()));
                Assert.StartsWith(found + ": -8, -8 to 103, 61", f.Found);
                Assert.Contains(planned == 0 ? "have pixels outside the picture" : message, f.Message);
                Assert.StartsWith(remedy, f.Remedy);
            }
        );
    }

    [Fact]
    public void Files_without_the_planned_overscan_are_rendered_again()
    {
        using var plain = new TempFolder();
        Disk.Render(With with { Shot = With.Shot with { Overscan = 0 } }, plain.Path, null, []);
        CheckReport report = Disk.Check(plain.Path, With, FactsDepth.Header, new NoFactsCache()).Report;
        Assert.All(
            report.Findings.Where(f => f.Rule == "format.data-window"),
            f => Assert.Contains("have no overscan; 8 pixels are planned on every side", f.Message)
        );
        Assert.Equal(["kelp", "seabed", "sub"], report.Rerun.Select(r => r.Layer).Distinct().Order());
    }

    [Fact]
    public void A_crop_stays_a_crop_whatever_is_planned()
    {
        string path = _folder[PlannedOutput.From(With)[0].Name.At(1002)];
        Tool.Oiio(path, "--fullsize", "200x100+0+0", "-o", path);
        Finding crop = Assert.Single(
            Check(With).Findings,
            f => f.Rule == "format.data-window" && f.Found.StartsWith("crop", StringComparison.Ordinal)
        );
        Assert.Equal((RemedyKind.Rerender, "1002"), (crop.RemedyKind, crop.Frames.ToString()));
    }

    [Fact]
    public void What_came_can_be_planned_and_guessed()
    {
        (IntakeResult intake, CheckReport report) = Disk.Check(_folder.Path, Planned(0), FactsDepth.Header, new NoFactsCache());
        Replan change = RuleBook.Replan(report.Findings.First(f => f.Rule == "format.data-window"), new CheckContext(Planned(0), intake))!;
        Assert.Equal((Overscan, "the shot has 8 pixels of overscan"), (change.After.Shot.Overscan, change.What));
        Assert.Equal(
            (Overscan, Width),
            (PlanGuess.From(intake, With.Show, "KP010")!.Shot is var shot ? (shot.Overscan, shot.Width) : default)
        );
    }

    [Fact]
    public void Overscan_is_counted_in_bytes_and_named_in_the_crate()
    {
        Plan raw = new SetOutputs([], null) { Compression = "none" }.Apply(With);
        using var folder = new TempFolder();
        Disk.Render(raw, folder.Path, FrameSet.Single(1001), []);
        Assert.All(
            PlanEstimate.Compute(raw).Outputs,
            o => Assert.InRange(o.BytesPerFrame / new FileInfo(folder[o.Output.Name.At(1001)]).Length, 0.95, 1.05)
        );
        var manifest = CrateDescription.Manifest(
            Disk.Contents(With, Disk.TakeIn(folder.Path, With, FactsDepth.Header)),
            "KP010",
            1,
            DateTime.UnixEpoch,
            [],
            Guid.Empty,
            ""
        );
        Assert.Equal(Overscan, manifest.Overscan);
        Assert.Contains("96 × 54 and 8 pixels of overscan on every side", PackingSlip.Write(manifest));
    }

    [Theory]
    [InlineData("32", 32)]
    [InlineData("0", 0)]
    [InlineData(" ", 0)]
    public void It_is_set_as_typed_and_kept_in_the_document(string text, int pixels)
    {
        Plan plan = new SetShot { Overscan = text }.Apply(With);
        Assert.Equal(pixels, plan.Shot.Overscan);
        string json = PlanDocument.Write(plan);
        Assert.Equal(pixels > 0, json.Contains("\"overscan\""));
        Assert.Equal(pixels, PlanDocument.Read(json).Plan!.Shot.Overscan);
    }

    [Theory]
    [InlineData("-1")]
    [InlineData("wide")]
    [InlineData("9000")]
    public void What_is_no_overscan_is_refused(string text)
    {
        PlanEditException refused = Assert.Throws<PlanEditException>(() => new SetShot { Overscan = text }.Apply(With));
        Assert.Equal("shot.overscan", refused.Field);
        Assert.Contains("0 to 8192 pixels", refused.Message);
    }

    [Fact]
    public void A_plan_with_impossible_overscan_is_not_read()
    {
        string json = PlanDocument.Write(With).Replace("\"overscan\": 8", "\"overscan\": -3", StringComparison.Ordinal);
        Assert.Contains(PlanDocument.Read(json).Problems, p => p.Field == "shot.overscan");
    }

    [Fact]
    public void The_test_frame_has_its_share_of_it() => Assert.Equal(4, TestFrameCheck.PlanFor(With, 1002, 0.5).Shot.Overscan);

    private static Plan Planned(int overscan) => With with { Shot = With.Shot with { Overscan = overscan } };

    private CheckReport Check(Plan plan, FactsDepth depth = FactsDepth.Header) =>
        Disk.Check(_folder.Path, plan, depth, new NoFactsCache()).Report;

    private static ExrImage Depth(string path)
    {
        using ExrFile file = Disk.Exr(path);
        return ExrImage.Read(file, file.Parts[0], ["Z"], out _, default);
    }
}
