using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Reports;
using DuneCrate.Checking.Rules;
using DuneCrate.Foundation.Rules;
using DuneCrate.Imaging;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.Checking.Tests.Checks;

/// <summary>Each rule fires on its fault with the right layer and frames, and every rule is silent on clean frames.</summary>
public class RulesTests
{
    [Fact]
    public void Clean_frames_have_no_findings_at_either_depth()
    {
        using var shot = new ShotFixture();
        Assert.Empty(shot.Check(FactsDepth.Header).Findings);
        Assert.Empty(shot.Check().Findings);
        Assert.Empty(shot.Check(withPlan: false).Findings);
    }

    [Theory]
    [InlineData("missing:sub:1004-1005", "frames.missing", Severity.Blocker, "sub", "1004-1005", RemedyKind.Rerender)]
    [InlineData("truncated:sub:1005", "files.truncated", Severity.Blocker, "sub", "1005", RemedyKind.Rerender)]
    [InlineData("empty:kelp:1006", "files.settling", Severity.Note, "kelp", "1006", RemedyKind.Wait)]
    [InlineData("nonfinite:sub:1004", "pixels.nonfinite", Severity.Blocker, "sub", "1004", RemedyKind.Rerender)]
    [InlineData("wrong-size:sub:1003", "format.resolution", Severity.Blocker, "sub", "1003", RemedyKind.Rerender)]
    [InlineData("wrong-rate:sub:1003-1004", "format.rate", Severity.Warning, "sub", "1003-1004", RemedyKind.Look)]
    [InlineData("wrong-camera:kelp:1002", "format.camera", Severity.Blocker, "kelp", "1002", RemedyKind.Rerender)]
    [InlineData("dropped-channel:kelp:1002", "channels.missing", Severity.Blocker, "kelp", "1002", RemedyKind.Rerender)]
    [InlineData("half-depth:seabed:1007", "channels.type", Severity.Blocker, "seabed", "1007", RemedyKind.Rerender)]
    [InlineData("8-bit:seabed:1008", "pixels.depth", Severity.Blocker, "seabed", "1008", RemedyKind.Rerender)]
    [InlineData("black:kelp:1009", "pixels.black", Severity.Blocker, "kelp", "1009", RemedyKind.Rerender)]
    [InlineData("copy:seabed:1006", "pixels.repeat", Severity.Warning, "seabed", "1006", RemedyKind.Rerender)]
    [InlineData("renamed:sub:1010", "names.template", Severity.Blocker, "sub", "1010", RemedyKind.Rename)]
    [InlineData("repadded:sub:1011", "names.padding", Severity.Warning, "sub", "1011", RemedyKind.Rename)]
    [InlineData("unlit:sub:1002-1003", "rebuild.residual", Severity.Blocker, "sub", "1002-1003", RemedyKind.Rerender)]
    public void Every_fault_of_the_stand_in_is_found_and_nothing_else(
        string fault,
        string rule,
        Severity severity,
        string layer,
        string frames,
        RemedyKind remedy
    )
    {
        using var shot = new ShotFixture(fault);
        CheckReport report = shot.Check();
        Finding finding = Assert.Single(report.Findings, f => f.Rule == rule);
        Assert.Equal((severity, layer, frames, remedy), (finding.Severity, finding.Layer, finding.Frames.ToString(), finding.RemedyKind));
        Assert.All(
            new[] { finding.Expected, finding.Found, finding.Message, finding.Remedy },
            text => Assert.False(string.IsNullOrWhiteSpace(text))
        );
        // Quantised light does not sum exactly: the one side effect that a fault may have.
        Assert.All(
            report.Findings,
            f => Assert.True(f.Rule == rule || (fault.StartsWith("8-bit") && f.Rule == "rebuild.residual"), $"{f.Rule} too: {f.Message}")
        );
        Assert.Equal(
            remedy == RemedyKind.Rerender ? frames : "",
            report.Rerun.FirstOrDefault(r => r.Layer == layer)?.Frames.ToString() ?? ""
        );
    }

    [Fact]
    public void Every_kind_of_fault_has_its_line_in_the_table_above()
    {
        var lines = typeof(RulesTests)
            .GetMethod(nameof(Every_fault_of_the_stand_in_is_found_and_nothing_else))!
            .GetCustomAttributesData()
            .Where(a => a.AttributeType == typeof(InlineDataAttribute))
            .Select(a =>
                ((string)((IReadOnlyList<System.Reflection.CustomAttributeTypedArgument>)a.ConstructorArguments[0].Value!)[0].Value!).Split(
                    ':'
                )[0]
            );
        Assert.Equal(Fault.Kinds.Keys.Order(), lines.Order());
    }

    [Fact]
    public void Extra_frames_are_told()
    {
        using var shot = new ShotFixture();
        shot.Plan = shot.Plan with { Shot = shot.Plan.Shot with { Frames = FrameSet.Parse("1001-1010") } };
        Assert.All(shot.Check(FactsDepth.Header).Findings, f => Assert.Equal(("frames.extra", "1011-1012"), (f.Rule, f.Frames.ToString())));
        Assert.Equal(12, shot.Check(FactsDepth.Header).Findings.Length);
    }

    [Fact]
    public void A_gap_is_told_without_a_plan()
    {
        using var shot = new ShotFixture("missing:sub:1004");
        Finding finding = Assert.Single(shot.Check(FactsDepth.Header, withPlan: false).Findings);
        Assert.Equal(
            ("frames.gap", Severity.Warning, "1004", "sub"),
            (finding.Rule, finding.Severity, finding.Frames.ToString(), finding.Layer)
        );
    }

    [Fact]
    public void Two_files_for_one_frame_are_told()
    {
        using var shot = new ShotFixture();
        File.Copy(shot["sub/KP010_sub.1004.exr"], shot["sub/KP010_sub.01004.exr"]);
        Finding finding = Assert.Single(shot.Check(FactsDepth.Header).Findings, f => f.Rule == "frames.duplicate");
        Assert.Equal("1004", finding.Frames.ToString());
        Assert.Contains("KP010_sub.01004.exr", finding.Found);
    }

    [Fact]
    public void A_single_file_for_a_sequence_is_told()
    {
        using var shot = new ShotFixture("missing:sub:1002-1012");
        Assert.Contains(shot.Check(FactsDepth.Header).Findings, f => f.Rule == "frames.still" && f.Layer == "sub");
    }

    [Fact]
    public void An_output_without_any_file_is_one_finding()
    {
        using var shot = new ShotFixture("missing:sub:1001-1012");
        Finding finding = Assert.Single(shot.Check(FactsDepth.Header).Findings);
        Assert.Equal(("outputs.missing", ShotFixture.AllFrames), (finding.Rule, finding.Frames.ToString()));
    }

    [Fact]
    public void A_foreign_sequence_is_a_note_with_the_nearest_output()
    {
        using var shot = new ShotFixture();
        Directory.CreateDirectory(shot["bubbles"]);
        File.Copy(shot["sub/KP010_sub.1004.exr"], shot["bubbles/foam_final.0001.exr"]);
        Finding finding = Assert.Single(shot.Check(FactsDepth.Header).Findings);
        Assert.Equal(("outputs.unplanned", Severity.Note, "bubbles/foam_final.####.exr"), (finding.Rule, finding.Severity, finding.Output));
        Assert.Contains("nearest is", finding.Expected);
    }

    [Fact]
    public void A_number_after_the_extension_is_told()
    {
        using var shot = new ShotFixture();
        File.Move(shot["sub/KP010_sub.1004.exr"], shot["sub/KP010_sub.exr.1004"]);
        Finding finding = Assert.Single(shot.Check(FactsDepth.Header).Findings);
        Assert.Equal(("names.order", "1004", "sub/KP010_sub.1004.exr"), (finding.Rule, finding.Frames.ToString(), finding.Expected));
    }

    [Fact]
    public void A_text_file_is_unreadable_and_an_old_empty_one_too()
    {
        using var shot = new ShotFixture("empty:kelp:1003");
        File.WriteAllText(shot["sub/KP010_sub.1004.exr"], new string('x', 2000));
        File.SetLastWriteTimeUtc(shot["kelp/KP010_kelp.1003.exr"], DateTime.UtcNow.AddHours(-1));
        Finding[] findings = [.. shot.Check(FactsDepth.Header).Findings];
        Assert.Equal(
            [("kelp", "1003"), ("sub", "1004")],
            findings.Where(f => f.Rule == "files.unreadable").Select(f => (f.Layer!, f.Frames.ToString()))
        );
        Assert.DoesNotContain(findings, f => f.Rule == "files.settling");
    }

    [Fact]
    public void Another_compression_is_a_warning_and_a_lossy_one_on_data_a_blocker()
    {
        using var shot = new ShotFixture();
        string data = shot["sub_data/KP010_sub_data.1004.exr"],
            colour = shot["seabed/KP010_seabed.1002.exr"];
        Tool.Oiio(data, "--compression", "dwaa", "-o", data);
        Tool.Oiio(colour, "--compression", "rle", "-o", colour);
        Finding[] findings = [.. shot.Check(FactsDepth.Header).Findings.Where(f => f.Rule == "format.compression")];
        Assert.Equal(
            [(Severity.Blocker, "dwaa", "1004"), (Severity.Warning, "rle", "1002")],
            findings.Select(f => (f.Severity, f.Found, f.Frames.ToString()))
        );
    }

    [Fact]
    public void Channels_under_an_alias_extra_and_missing_alpha_are_told_apart()
    {
        using var shot = new ShotFixture();
        PlanWith(
            shot,
            "kelp",
            layer =>
                layer with
                {
                    Outputs = layer.Outputs.SetItem(
                        0,
                        layer.Outputs[0] with
                        {
                            Passes =
                            [
                                .. layer.Outputs[0].Passes.Select(p => p.Pass == "specular" ? p with { Channels = Renamed(p, "spec") } : p),
                            ],
                        }
                    ),
                }
        );
        Finding[] findings = [.. shot.Check(FactsDepth.Header).Findings];
        Assert.Equal(3, findings.Count(f => f.Rule == "channels.name" && f.Found.StartsWith("specular.")));
        Assert.DoesNotContain(findings, f => f.Rule is "channels.missing" or "channels.extra");

        PlanWith(
            shot,
            "kelp",
            layer =>
                layer with
                {
                    Outputs = layer.Outputs.SetItem(0, layer.Outputs[0] with { Passes = [layer.Outputs[0].Passes[0]] }),
                    Rebuild = [],
                }
        );
        Finding extra = Assert.Single(shot.Check(FactsDepth.Header).Findings);
        Assert.Equal(("channels.extra", Severity.Note), (extra.Rule, extra.Severity));
    }

    [Fact]
    public void Alpha_planned_and_absent_blocks_and_the_reverse_warns()
    {
        using var shot = new ShotFixture();
        PlanWith(
            shot,
            "seabed",
            layer =>
                layer with
                {
                    Outputs = layer.Outputs.SetItem(
                        0,
                        layer.Outputs[0] with
                        {
                            Passes = layer.Outputs[0].Passes.SetItem(0, PassPlanDefaults.Create("beauty", AlphaMode.Straight)),
                        }
                    ),
                }
        );
        PlanWith(
            shot,
            "kelp",
            layer =>
                layer with
                {
                    Outputs = layer.Outputs.SetItem(
                        0,
                        layer.Outputs[0] with
                        {
                            Passes = layer.Outputs[0].Passes.SetItem(0, PassPlanDefaults.Create("beauty", AlphaMode.None)),
                        }
                    ),
                }
        );
        Assert.Equal(
            [(Severity.Blocker, "seabed"), (Severity.Warning, "kelp")],
            shot.Check(FactsDepth.Header).Findings.Select(f => (f.Severity, f.Layer!))
        );
    }

    [Fact]
    public void A_more_precise_type_is_a_note()
    {
        using var shot = new ShotFixture();
        shot.Plan = new WriteCells([new CellText("sub", "position", "half")]).Apply(shot.Plan);
        Finding finding = Assert.Single(shot.Check(FactsDepth.Header).Findings);
        Assert.Equal(("channels.type", Severity.Note, "position"), (finding.Rule, finding.Severity, finding.Pass));
    }

    [Fact]
    public void A_pass_that_is_black_throughout_is_a_warning()
    {
        using var shot = new ShotFixture();
        foreach (string file in Directory.EnumerateFiles(shot["kelp"]))
        {
            // oiiotool writes zeros into the specular pass: nothing but the sum changes.
            Tool.Oiio(
                file,
                "--ch",
                "R,G,B,A,direct_diffuse.R,direct_diffuse.G,direct_diffuse.B,indirect_diffuse.R,"
                    + "indirect_diffuse.G,indirect_diffuse.B,specular.R=0,specular.G=0,specular.B=0",
                "-d",
                "half",
                "--compression",
                "zip",
                "-o",
                file
            );
        }

        Finding finding = Assert.Single(shot.Check().Findings, f => f.Rule == "pixels.black");
        Assert.Equal((Severity.Warning, "specular", ShotFixture.AllFrames), (finding.Severity, finding.Pass, finding.Frames.ToString()));
    }

    [Fact]
    public void A_hold_at_the_end_is_no_repeat()
    {
        using var shot = new ShotFixture("copy:seabed:1006");
        foreach (int frame in new[] { 1009, 1010, 1011, 1012 })
        {
            File.Copy(shot["kelp/KP010_kelp.1008.exr"], shot[$"kelp/KP010_kelp.{frame}.exr"], overwrite: true);
        }

        Assert.Equal("seabed", Assert.Single(shot.Check().Findings, f => f.Rule == "pixels.repeat").Layer);
    }

    [Fact]
    public void Rule_ids_are_unique_and_of_a_known_family()
    {
        Assert.Equal(RuleBook.All.Length, RuleBook.All.Select(r => r.Id).Distinct().Count());
        Assert.All(
            RuleBook.All,
            r =>
                Assert.Matches(
                    "^(frames|outputs|names|files|format|channels|pixels|"
                        + "alpha|depth|normal|uv|motion|modulate|identity|crypto|rebuild)\\.[a-z-]+$",
                    r.Id
                )
        );
        Assert.All(RuleBook.All, r => Assert.False(string.IsNullOrEmpty(r.Title)));
        Assert.Equal("pixels.black", RuleBook.Find("pixels.black")!.Id);
    }

    private static void PlanWith(ShotFixture shot, string layer, Func<LayerPlan, LayerPlan> change) =>
        shot.Plan = shot.Plan with { Layers = [.. shot.Plan.Layers.Select(l => l.Name == layer ? change(l) : l)] };

    private static OrderedDictionary<string, ChannelType> Renamed(PassPlan pass, string prefix) =>
        new(pass.Channels.Select(c => KeyValuePair.Create($"{prefix}.{c.Key[^1]}", c.Value)));
}
