using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Remedies;
using DuneCrate.Checking.Reports;
using DuneCrate.Checking.Rules;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Tests.Checks;

/// <summary>What came is taken into the plan: the finding is gone at the next check, and nothing else has come of it.</summary>
public class ReplanTests
{
    /// <summary>Rule → how the plan and the files are made to differ, and what the change is called.</summary>
    private static readonly Dictionary<string, (Action<ShotFixture> Differ, string What)> Cases = new()
    {
        ["frames.extra"] = (s => s.Plan = WithShot(s.Plan, p => p with { Frames = FrameSet.Parse("1001-1010") }), "plans frames 1001-1012"),
        ["frames.missing"] = (
            s => s.Plan = WithShot(s.Plan, p => p with { Frames = FrameSet.Parse("1001-1014") }),
            "plans frames 1001-1012"
        ),
        ["frames.still"] = (s => s.Plan = WithShot(s.Plan, p => p with { Frames = FrameSet.Single(1001) }), "plans frames 1001-1012"),
        ["outputs.missing"] = (
            s =>
                Directory.Delete(
                    Path.GetDirectoryName(
                        s[PlannedOutput.From(s.Plan).First(o => o.Layer.Name == "sub" && o.Output.IsPerPass).Name.At(1001)]
                    )!,
                    recursive: true
                ),
            " of sub switched off"
        ),
        ["outputs.unplanned"] = (s => s.Plan = s.Plan with { Layers = s.Plan.Layers.RemoveAll(l => l.Name == "kelp") }, "planned in kelp"),
        ["channels.extra"] = (
            s => s.Plan = WithPass(s.Plan, "sub", "emission", _ => null),
            "emission.R emission.G emission.B planned in sub/KP010_sub.####.exr"
        ),
        ["channels.missing"] = (
            s =>
                s.Plan = WithPass(
                    s.Plan,
                    "kelp",
                    "direct_diffuse",
                    p => p with { Channels = new(p.Channels.Append(KeyValuePair.Create("direct_diffuse.W", ChannelType.Half))) }
                ),
            "direct_diffuse of kelp without direct_diffuse.W"
        ),
        ["channels.name"] = (
            s =>
                s.Plan = WithPass(
                    s.Plan,
                    "seabed",
                    "uv",
                    p =>
                        p with
                        {
                            Channels = new() { ["st.U"] = ChannelType.Float, ["st.V"] = ChannelType.Float },
                        }
                ),
            "uv of seabed is stored as uv.U uv.V"
        ),
        ["channels.type"] = (
            s =>
                s.Plan = WithPass(
                    s.Plan,
                    "sub",
                    "normal",
                    p =>
                        p with
                        {
                            Channels = new(
                                p.Channels.Select(c =>
                                    KeyValuePair.Create(c.Key, c.Value == ChannelType.Half ? ChannelType.Float : ChannelType.Half)
                                )
                            ),
                        }
                ),
            "normal of sub is stored as"
        ),
        ["channels.alpha"] = (
            s => s.Plan = WithPass(s.Plan, "sub", "beauty", p => p with { Channels = new(p.Channels.Where(c => c.Key != "A")) }),
            "beauty of sub has an alpha"
        ),
        ["format.resolution"] = (s => s.Plan = WithShot(s.Plan, p => p with { Width = 1920, Height = 1080 }), "the shot is 96 × 54"),
        ["format.data-window"] = (s => s.Plan = WithShot(s.Plan, p => p with { Overscan = 8 }), "the shot has no overscan"),
        ["format.aspect"] = (s => s.Plan = WithShot(s.Plan, p => p with { PixelAspectRatio = 2 }), "pixels are 1 wide"),
        ["format.rate"] = (s => s.Plan = WithShot(s.Plan, p => p with { FrameRate = new FrameRate(25, 1) }), "the shot runs at 24 fps"),
        ["format.camera"] = (s => s.Plan = WithShot(s.Plan, p => p with { Camera = "cam_other" }), "the camera is cam_main"),
        ["format.compression"] = (
            s =>
                s.Plan = s.Plan with
                {
                    Layers =
                    [
                        .. s.Plan.Layers.Select(l => l with { Outputs = [.. l.Outputs.Select(o => o with { Compression = "piz" })] }),
                    ],
                },
            "is compressed with zip"
        ),
        ["rebuild.terms"] = (
            s =>
                s.Plan = s.Plan with
                {
                    Layers =
                    [
                        .. s.Plan.Layers.Select(l => l.Name == "sub" ? l with { Rebuild = [.. l.Rebuild, new RebuildTerm("diffuse")] } : l),
                    ],
                },
            "the beauty of sub is direct_diffuse + "
        ),
    };

    public static TheoryData<string> Rules() => [.. Cases.Keys];

    [Theory]
    [MemberData(nameof(Rules))]
    public void What_came_is_taken_into_the_plan(string rule)
    {
        using var shot = new ShotFixture();
        (Action<ShotFixture> differ, string what) = Cases[rule];
        differ(shot);
        FactsDepth depth = rule == "rebuild.terms" ? FactsDepth.Pixels : FactsDepth.Header;
        string? first = null;
        for (int step = 0; ; step++)
        {
            (IntakeResult intake, CheckReport report) = Disk.Check(shot.Folder, shot.Plan, depth, new NoFactsCache());
            if (report.Findings.FirstOrDefault(f => f.Rule == rule) is not { } finding)
            {
                Assert.True(step > 0, $"{rule} was silent");
                Assert.Empty(report.Findings.Where(f => f.Severity != Severity.Note));
                break;
            }

            Assert.True(step < 40, $"{rule} does not go away");
            Assert.True(RuleBook.CanReplan(finding));
            Replan change = RuleBook.Replan(finding, new CheckContext(shot.Plan, intake))!;
            first ??= change.What;
            shot.Plan = PlanDocument.Read(PlanDocument.Write(change.After)).Plan!;
        }

        Assert.Contains(what, first);
    }

    [Fact]
    public void A_pass_that_is_0_throughout_is_switched_off()
    {
        using var shot = new ShotFixture();
        shot.Plan = shot.Plan with { Layers = [shot.Plan.Layers[0]] };
        (IntakeResult intake, _) = Disk.Check(shot.Folder, shot.Plan, FactsDepth.Header, new NoFactsCache());
        var context = new CheckContext(shot.Plan, intake);
        CheckedOutput checkedOutput = context.Outputs[0];
        Finding black = Found("pixels.black", checkedOutput, "emission", checkedOutput.Frames) with { Severity = Severity.Warning };
        Replan change = RuleBook.Replan(black, context)!;
        Assert.True(change.After.Layers[0].FindPass("emission")!.Off);
        Assert.DoesNotContain(change.After.Layers[0].Passes, p => p.Pass == "emission");

        // Black in one frame is a fault of that frame.
        Assert.Null(RuleBook.Replan(black with { Frames = FrameSet.Single(1001) }, context));
        Assert.Null(RuleBook.Replan(black with { Severity = Severity.Blocker }, context));
    }

    [Fact]
    public void What_no_plan_can_say_cannot_be_taken_in()
    {
        using var shot = new ShotFixture();
        (IntakeResult intake, _) = Disk.Check(shot.Folder, shot.Plan, FactsDepth.Header, new NoFactsCache());
        var context = new CheckContext(shot.Plan, intake);
        CheckedOutput checkedOutput = context.Outputs[0];
        Assert.Null(RuleBook.Replan(Found("pixels.nonfinite", checkedOutput, "beauty", FrameSet.Single(1001)), context));
        Assert.False(RuleBook.CanReplan(Found("files.truncated", checkedOutput, null, FrameSet.Single(1001))));

        // Nothing would be left of the output.
        Assert.Null(RuleBook.Replan(Found("frames.missing", checkedOutput, null, checkedOutput.Planned!.Frames), context));
        Assert.Null(
            RuleBook.Replan(Found("frames.extra", checkedOutput, null, FrameSet.Single(1)) with { Output = "gone/####.exr" }, context)
        );
        Assert.Null(
            RuleBook.Replan(Found("outputs.unplanned", checkedOutput, null, FrameSet.Single(1)) with { Output = "gone/####.exr" }, context)
        );
        Assert.Null(RuleBook.Replan(Found("format.camera", checkedOutput, null, FrameSet.Empty), context));
        Assert.Null(RuleBook.Replan(Found("frames.extra", checkedOutput, null, FrameSet.Single(1)), new CheckContext(null, intake)));
    }

    [Fact]
    public void Frames_of_a_pass_in_a_file_of_its_own_are_its_own()
    {
        using var shot = new ShotFixture();
        (IntakeResult intake, _) = Disk.Check(shot.Folder, shot.Plan, FactsDepth.Header, new NoFactsCache());
        var context = new CheckContext(shot.Plan, intake);
        CheckedOutput checkedOutput = context.Outputs.First(l => l.Planned!.Output.IsPerPass);
        Replan change = RuleBook.Replan(Found("frames.extra", checkedOutput, null, FrameSet.Single(1013)), context)!;
        LayerPlan layer = change.After.Layers.First(l => l.Name == checkedOutput.Layer);
        Assert.Equal("1001-1013", layer.FindPass(checkedOutput.Planned!.Passes[0].Pass)!.Frames!.ToString());
        Assert.All(layer.Outputs, o => Assert.Null(o.Frames));
    }

    [Fact]
    public void The_name_of_the_picture_size_is_the_first_whole_files()
    {
        using var shot = new ShotFixture("truncated:sub:1001");
        shot.Plan = WithShot(shot.Plan, p => p with { Width = 10, Height = 10 });
        (IntakeResult intake, CheckReport report) = Disk.Check(shot.Folder, shot.Plan, FactsDepth.Header, new NoFactsCache());
        Replan change = RuleBook.Replan(report.Findings.First(f => f.Rule == "format.resolution"), new CheckContext(shot.Plan, intake))!;
        Assert.Equal((96, 54), (change.After.Shot.Width, change.After.Shot.Height));
    }

    private static Finding Found(string rule, CheckedOutput checkedOutput, string? pass, FrameSet frames) =>
        TestFindings.Make(rule, Severity.Warning, checkedOutput.Key, checkedOutput.Layer, pass, frames);

    private static Plan WithShot(Plan plan, Func<ShotPlan, ShotPlan> change) => plan with { Shot = change(plan.Shot) };

    private static Plan WithPass(Plan plan, string layer, string pass, Func<PassPlan, PassPlan?> change) =>
        plan with
        {
            Layers =
            [
                .. plan.Layers.Select(l =>
                    l.Name != layer
                        ? l
                        : l with
                        {
                            Rebuild = [.. l.Rebuild.Where(t => !t.Factors.Contains(pass) || change(l.FindPass(pass)!) is not null)],
                            Outputs =
                            [
                                .. l.Outputs.Select(o =>
                                    o with
                                    {
                                        Passes = [.. o.Passes.Select(p => p.Pass == pass ? change(p) : p).OfType<PassPlan>()],
                                    }
                                ),
                            ],
                        }
                ),
            ],
        };
}
