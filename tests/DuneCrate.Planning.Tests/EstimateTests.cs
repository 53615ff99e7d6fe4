using DuneCrate.Checking;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Reports;
using DuneCrate.Exr;
using DuneCrate.Foundation.Documents;
using DuneCrate.Imaging;
using DuneCrate.Planning.Estimates;
using DuneCrate.StandIns.Renderer;
using static DuneCrate.Testing.PlanMaker;

namespace DuneCrate.Planning.Tests;

public class EstimateTests
{
    [Theory] // Raw size of one frame: width × height × channels × bytes. 1920 × 1080 in half RGBA is 16,588,800 bytes (arithmetic).
    [InlineData("beauty", 1920, 1080, 16_588_800)]
    [InlineData("depth", 1920, 1080, 8_294_400)]
    [InlineData("cryptomatte.object", 1920, 1080, 66_355_200)]
    public void Raw_bytes_are_pixels_times_channels_times_type(string pass, int width, int height, double bytes) =>
        Assert.Equal(bytes, PlanEstimate.RawBytes(PassPlanDefaults.Create(pass, AlphaMode.Premultiplied), PixelBox.OfSize(width, height)));

    [Fact]
    public void Without_compression_the_estimate_is_the_file_to_the_percent()
    {
        using var folder = new TempFolder();
        Plan plan = new SetOutputs([], null) { Compression = "none" }.Apply(StandInPlan.Create("KP010", FrameSet.Single(1001), 96, 54));
        Disk.Render(plan, folder.Path, null, []);
        Assert.All(
            PlanEstimate.Compute(plan).Outputs,
            o => Assert.InRange(o.BytesPerFrame / new FileInfo(folder[o.Output.Name.At(1001)]).Length, 0.95, 1.05)
        );
    }

    /// <summary>The goal: within 15 % of what is really written, when calibrated by one test frame, also at half size.</summary>
    [Theory]
    [InlineData(1.0, 0.05)]
    [InlineData(0.5, 0.15)]
    public void One_test_frame_tells_the_size_of_the_shot(double scale, double within)
    {
        using var folder = new TempFolder();
        Plan plan = StandInPlan.Create("KP010", FrameSet.Parse("1001-1006"), 320, 180);
        plan = plan with
        {
            Shot = plan.Shot with
            {
                TestFrame = new TestFrame { Frame = 1006, Scale = scale },
            },
        };
        Disk.Render(TestFrameCheck.PlanFor(plan, 1006, scale), folder["test"], null, []);
        (CheckReport report, SetTestFrame measured) = TestFrameCheck.Run(Disk.Asked(folder["test"], plan, FactsDepth.Pixels), default);
        Assert.Empty(report.Findings);
        plan = measured.Apply(plan);
        Disk.Render(plan, folder["shot"], null, []);
        PlanEstimate estimate = PlanEstimate.Compute(plan);
        double written = new DirectoryInfo(folder["shot"]).EnumerateFiles("*.exr", SearchOption.AllDirectories).Sum(f => f.Length);
        Assert.All(estimate.Outputs, o => Assert.True(o.IsMeasured));
        Assert.InRange(estimate.Bytes / written, 1 - within, 1 + within);
        Assert.Equal(estimate.Bytes, estimate.PassBytes.Values.Sum(), estimate.Bytes * 1e-9);
        // Moving passes to other files keeps what was measured.
        PlanEstimate split = PlanEstimate.Compute(new ArrangeOutputs([], OutputArrangement.PerPass).Apply(plan));
        Assert.All(split.Outputs, o => Assert.True(o.IsMeasured));
        Assert.InRange(split.Bytes / written, 1 - within - 0.1, 1 + within + 0.1);
    }

    [Fact]
    public void Hours_are_the_test_frames_time_grown_to_full_size_times_frames_over_machines()
    {
        Plan plan = WithSub().Apply(new SetTestFrame(360, 0.5) { Seconds = new() { ["sub"] = 30 } });
        plan = plan with { Show = plan.Show with { Machines = 4 } };
        PlanEstimate estimate = PlanEstimate.Compute(plan);
        Assert.Equal(30 * 4 * 360 / 3600.0, estimate.Layers[0].Hours!.Value, 9);
        Assert.Equal(3, estimate.Hours!.Value, 9);
        Assert.Null(PlanEstimate.Compute(plan.Apply(new AddLayer("kelp"))).Hours);
    }

    [Fact]
    public void The_stand_ins_headers_tell_the_time_of_the_test_frame()
    {
        using var folder = new TempFolder();
        Plan plan = StandInPlan.Create("KP010", FrameSet.Parse("1001-1002"), 64, 36) is var p
            ? p with
            {
                Shot = p.Shot with { TestFrame = new TestFrame { Frame = 1002 } },
            }
            : p;
        Disk.Render(
            plan,
            folder.Path,
            FrameSet.Single(1002),
            [Fault.TryParse("missing:kelp:1002", out Fault? fault, out _) ? fault : null!]
        );
        (CheckReport report, SetTestFrame measured) = TestFrameCheck.Run(Disk.Asked(folder.Path, plan, FactsDepth.Pixels), default);
        Assert.Equal(["outputs.missing"], report.Findings.Select(f => f.Rule));
        Assert.Equal(
            (1, true, false),
            (measured.Blockers, measured.Seconds!["sub"] > 0, measured.Bytes!.ContainsKey("kelp/KP010_kelp.####.exr"))
        );
    }

    [Fact]
    public void What_is_off_costs_nothing_and_sizes_read_well()
    {
        Plan plan = WithSub("depth");
        Assert.True(PlanEstimate.Compute(plan.Cell("sub", "depth", "off")).Bytes < PlanEstimate.Compute(plan).Bytes);
        Assert.Equal(0, PlanEstimate.Compute(plan.Apply(new SetLayer("sub") { Off = true })).Bytes);
        Assert.Equal(
            ["0 bytes", "999 bytes", "0.98 KiB", "16.0 MiB", "530 KiB", "1.04 GiB"],
            new[] { 0, 999, 1000, 16_777_216, 542_720, 1_116_691_497.0 }.Select(ByteSize.Text)
        );
    }
}
