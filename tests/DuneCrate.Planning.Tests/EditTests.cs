using DuneCrate.Foundation.Naming;
using DuneCrate.Imaging;
using DuneCrate.Planning.Sheet;
using static DuneCrate.Testing.EditSamples;
using static DuneCrate.Testing.PlanMaker;

namespace DuneCrate.Planning.Tests;

/// <summary>Layers, outputs, shot, roster, roles, ids.</summary>
public partial class EditTests
{
    private static string Refused(Plan plan, PlanEdit edit) => Assert.Throws<PlanEditException>(() => edit.Apply(plan)).Message;

    [Fact]
    public void A_renamed_layer_takes_paths_channels_bases_and_test_frame_with_it()
    {
        Plan plan = WithSub("depth")
            .Apply(
                new SetOutputs(["sub"], PassHome.Shared) { Template = "renders/sub/{shot}_sub_sublime.{frame}.exr" },
                new AddLayer("thin", BasedOn: "sub"),
                new SetTestFrame(360) { Seconds = new() { ["sub"] = 12 } }
            );
        plan = plan with
        {
            Layers = plan.Layers.SetItem(
                0,
                plan.Layers[0] with
                {
                    Outputs =
                    [
                        plan.Layers[0].Outputs[0] with
                        {
                            Passes =
                            [
                                new PassPlan
                                {
                                    Pass = "beauty",
                                    Channels = new() { ["sub.R"] = ChannelType.Half },
                                },
                            ],
                        },
                    ],
                }
            ),
        };
        Plan renamed = new RenameLayer("sub", "boat").Apply(plan);
        Assert.Equal("renders/boat/{shot}_boat_sublime.{frame}.exr", renamed.Layers[0].Outputs[0].Template);
        Assert.Equal("boat.R", renamed.Layers[0].Outputs[0].Passes[0].Channels.Keys.Single());
        Assert.Equal("boat", renamed.FindLayer("thin")!.BasedOn);
        Assert.Equal(12, renamed.Shot.TestFrame!.Seconds!["boat"]);
        Assert.Contains(
            ("renders/sub/KP040_sub_sublime.####.exr", "renders/boat/KP040_boat_sublime.####.exr"),
            RenameLayer.Paths(plan, renamed)
        );
    }

    [Fact]
    public void A_copied_layer_has_all_passes_and_roles_under_its_own_paths()
    {
        Plan copied = new DuplicateLayer("sub", "sub_b").Apply(Demo);
        Assert.Equal(Demo.Passes(), copied.Passes("sub_b"));
        Assert.Equal(Demo.FindLayer("sub")!.Roles, copied.FindLayer("sub_b")!.Roles);
        Assert.Equal(copied.Layers.IndexOf(copied.FindLayer("sub")!) + 1, copied.Layers.IndexOf(copied.FindLayer("sub_b")!));
        Assert.Contains(PlannedOutput.From(copied), o => o.Key == "sub_b/KP010_sub_b.####.exr");
    }

    [Theory]
    [InlineData("SUB", "already")]
    [InlineData("a b", "letters, digits")]
    [InlineData("", "name is needed")]
    public void Bad_layer_names_are_refused(string name, string says)
    {
        Assert.Contains(says, Refused(WithSub(), new AddLayer(name)));
        Assert.Contains(says, Refused(WithSub().Apply(new AddLayer("kelp")), new RenameLayer("kelp", name)));
    }

    [Fact]
    public void Layers_move_and_stay_inside()
    {
        Assert.Equal(["sub_occlusion", "sub", "kelp", "seabed"], new MoveLayer("sub", 1).Apply(Demo).Layers.Select(l => l.Name));
        Assert.Equal("seabed", new MoveLayer("seabed", -99).Apply(Demo).Layers[0].Name);
    }

    [Fact]
    public void Alpha_goes_and_comes_with_the_layers_mode()
    {
        Plan without = WithSub().Apply(new SetLayer("sub") { Alpha = AlphaMode.None });
        Assert.Equal(["R", "G", "B"], without.Layers[0].FindPass("beauty")!.Channels.Keys);
        Assert.Equal(
            ["R", "G", "B", "A"],
            without.Apply(new SetLayer("sub") { Alpha = AlphaMode.Straight }).Layers[0].FindPass("beauty")!.Channels.Keys
        );
    }

    [Fact]
    public void Layer_fields_are_set_cleared_and_refused()
    {
        Plan plan = WithSub().Apply(new SetLayer("sub") { Frames = "1-20", Group = "foreground" });
        Assert.Equal(("1-20", "foreground"), (plan.Layers[0].Frames!.ToString(), plan.Layers[0].Group));
        plan = plan.Apply(new SetLayer("sub") { Frames = "", Group = "" });
        Assert.Null(plan.Layers[0].Frames);
        Assert.Null(plan.Layers[0].Group);
        Assert.Contains("runs backwards", Refused(plan, new SetLayer("sub") { Frames = "20-1" }));
        Assert.Contains("does not put out", Refused(plan, new SetLayer("sub") { Rebuild = "emission" }));
        Assert.Contains("is not a pass", Refused(plan, new SetLayer("sub") { Rebuild = "glimmer" }));
        Assert.Contains(
            "two factors",
            Refused(plan, new SetLayer("sub") { Rebuild = "a*b*c" }).Replace("one pass, or two with", "two factors")
        );
    }

    [Fact]
    public void Outputs_are_set_for_all_layers_at_once()
    {
        Plan plan = Demo.Apply(
            new SetOutputs([], PassHome.Shared)
            {
                Template = "{shot}/{version}/{layer}.{frame}.exr",
                Padding = "6",
                Compression = "zips",
            },
            new SetShot { Version = "v007" }
        );
        Assert.Equal(
            ["KP010/v007/sub.######.exr", "KP010/v007/kelp.######.exr", "KP010/v007/seabed.######.exr"],
            PlannedOutput.From(plan).Where(o => o.HasBeauty).Select(o => o.Key)
        );
        Assert.All(
            plan.Layers.SelectMany(l => l.Outputs.Where(o => !o.IsPerPass && PassSheet.HomeOf(l, o) == PassHome.Data)),
            o => Assert.Equal(("zip", 4), (o.Compression, o.Padding))
        );
    }

    [Theory]
    [InlineData("../{layer}.{frame}.exr", null, null, "path below")]
    [InlineData("{layer}_{pass}.{frame}.exr", null, null, "must not hold {pass}")]
    [InlineData("{colour}.{frame}.exr", null, null, "not a token")]
    [InlineData(null, "0", null, "1 to 12")]
    [InlineData(null, null, "zap", "not a compression")]
    public void Bad_output_settings_are_refused(string? template, string? padding, string? compression, string says) =>
        Assert.Contains(
            says,
            Refused(
                WithSub(),
                new SetOutputs([], PassHome.Shared)
                {
                    Template = template,
                    Padding = padding,
                    Compression = compression,
                }
            )
        );

    [Fact]
    public void Arrangements_turn_into_each_other()
    {
        Plan plan = WithSub("direct_diffuse", "depth", "object_id");
        Plan apart = new ArrangeOutputs([], OutputArrangement.DataApart).Apply(plan),
            own = new ArrangeOutputs([], OutputArrangement.PerPass).Apply(plan);
        Assert.Equal(OutputArrangement.DataApart, ArrangeOutputs.From(apart, apart.Layers[0]));
        Assert.Equal(["depth", "object_id"], PlannedOutput.From(apart)[1].Passes.Select(p => p.Pass));
        Assert.Equal((4, OutputArrangement.PerPass), (PlannedOutput.From(own).Length, ArrangeOutputs.From(own, own.Layers[0])));
        Assert.Equal(plan.Text(), new ArrangeOutputs([], OutputArrangement.Shared).Apply(own).Text());
        Assert.Equal(plan.Text(), new ArrangeOutputs([], OutputArrangement.Shared).Apply(apart).Text());
        Assert.Equal(OutputArrangement.Mixed, ArrangeOutputs.From(Demo, Demo.FindLayer("sub")!));
    }

    [Theory]
    [InlineData("shot.frames", "1048-1001", null, null)]
    [InlineData("shot.frames", "", null, null)]
    [InlineData("shot.frames", "1001-2000000000", null, null)]
    [InlineData("shot.frameRate", null, "fast", null)]
    [InlineData("shot.width", null, null, "0")]
    public void Shot_fields_are_refused_where_they_stand(string field, string? frames, string? rate, string? width) =>
        Assert.Equal(
            field,
            Assert
                .Throws<PlanEditException>(() =>
                    new SetShot
                    {
                        Frames = frames,
                        Rate = rate,
                        Width = width,
                    }.Apply(WithSub())
                )
                .Field
        );

    /// <summary>Whichever edit brings them in: frames that nobody can have meant are refused in one place.</summary>
    [Fact]
    public void Ranges_with_a_digit_too_many_are_refused_wherever_they_stand()
    {
        PlanEdit[] edits =
        [
            new SetLayer("sub") { Frames = "1-2000000000" },
            new WriteCells([new("sub", "depth", "float own frames=1-2000000000")]),
            new SeveralEdits([new AssignIds(), new SetLayer("sub") { Frames = "1-2000000000" }], "two"),
            new ReplacePlan(
                Demo with
                {
                    Layers =
                    [
                        .. Demo.Layers.Select(l =>
                            l with
                            {
                                Outputs = [.. l.Outputs.Select(o => o with { Frames = FrameSet.Range(1, 2_000_000_000) })],
                            }
                        ),
                    ],
                },
                "again"
            ),
        ];
        Assert.All(edits, e => Assert.Contains("look for a digit too many", Refused(Demo, e)));
    }

    [Theory]
    [InlineData(null, "v7", "like v001")]
    [InlineData("r00", "v07", "like r01")]
    public void Versions_are_written_in_the_shows_style(string? style, string token, string says)
    {
        Plan plan = WithSub() is var p ? p with { Show = p.Show with { VersionStyle = style } } : p;
        Assert.Contains(says, Refused(plan, new SetShot { Version = token }));
        string right = VersionStyle.Write(style, 7);
        Assert.Equal(right, plan.Apply(new SetShot { Version = right }).Shot.Version);
    }

    [Fact]
    public void Render_settings_are_inherited_overridden_and_checked()
    {
        LayerPlan sub = Demo.FindLayer("sub")!,
            kelp = Demo.FindLayer("kelp")!;
        Assert.Equal(
            ("64", "4", null),
            (
                RenderSettings.Value(Demo, kelp, "samples"),
                RenderSettings.Value(Demo, sub, "bounces.refraction"),
                RenderSettings.Value(Demo, kelp, "bounces.refraction")
            )
        );
        Plan plan = Demo.Apply(new SetSettings(["kelp"], "samples", "128"));
        Assert.Equal("128", RenderSettings.Value(plan, plan.FindLayer("kelp")!, "samples"));
        Assert.Equal(Demo.Text(), plan.Apply(new SetSettings(["kelp"], "samples", "")).Text());
        Assert.Contains("not a number", Refused(Demo, new SetSettings([], "samples", "many")));
        Assert.Contains("yes or no", Refused(Demo, new SetSettings([], "denoise", "maybe")));
        Assert.Equal(
            "warm",
            RenderSettings.Value(
                Demo.Apply(new SetSettings([], "grain_of_our_own", "warm")),
                kelp with
                {
                    Settings = new() { ["grain_of_our_own"] = "warm" },
                },
                "grain_of_our_own"
            )
        );
    }

    [Fact]
    public void A_pass_with_a_file_of_its_own_gets_a_name_and_a_format_of_its_own_and_can_return()
    {
        const string Png = "{layer}/{layer}_{pass}.####.png";
        Plan apart = Demo.Apply(new ArrangeOutputs(["kelp"], OutputArrangement.PerPass));
        string shared = Assert.Single(apart.FindLayer("kelp")!.Outputs).Template;
        Plan named = apart.Apply(new SetOutputs(["kelp"], PassHome.Own) { Pass = "ao", Template = Png });
        OutputPlan own = named.FindLayer("kelp")!.Outputs.Single(o => o.Template.EndsWith(".png", StringComparison.Ordinal));
        Assert.Equal(("{layer}/{layer}_{pass}.{frame}.png", "ao"), (own.Template, Assert.Single(own.Passes).Pass));

        // What is written into its cell leaves it where it is, and the others' name does not reach it.
        Plan typed = named.Cell("kelp", "ao", "uint8 own");
        Assert.Contains(typed.FindLayer("kelp")!.Outputs, o => o.Template == own.Template && o.Passes.Any(p => p.Pass == "ao"));
        Plan all = typed.Apply(new SetOutputs(["kelp"], PassHome.Own) { Template = "{pass}/{layer}.{frame}.exr" });
        Assert.Contains(all.FindLayer("kelp")!.Outputs, o => o.Template == own.Template);

        Plan back = named.Apply(new SetOutputs(["kelp"], PassHome.Own) { Pass = "ao", Template = shared });
        Assert.Single(back.FindLayer("kelp")!.Outputs);
        Assert.Throws<PlanEditException>(() =>
            apart.Apply(new SetOutputs(["kelp"], PassHome.Own) { Pass = "ao", Template = "a.{frame}.png" })
        );
    }

    [Fact]
    public void Passes_of_plain_channels_that_go_into_one_file_get_names_that_differ()
    {
        Plan plain = Demo.Apply(new ArrangeOutputs(["kelp"], OutputArrangement.PerPass));
        plain = plain with
        {
            Layers =
            [
                .. plain.Layers.Select(l =>
                    l with
                    {
                        Outputs =
                        [
                            .. l.Outputs.Select(o =>
                                o with
                                {
                                    Passes =
                                    [
                                        .. o.Passes.Select(p =>
                                            HeldPass.Create(p.Pass, null, p.Channels.Keys) is not null
                                                ? p with
                                                {
                                                    Channels = new OrderedDictionary<string, ChannelType>(
                                                        p.Channels.Select(c => KeyValuePair.Create(ChannelNames.LastOf(c.Key), c.Value))
                                                    ),
                                                }
                                                : p
                                        ),
                                    ],
                                }
                            ),
                        ],
                    }
                ),
            ],
        };
        LayerPlan together = plain.Apply(new ArrangeOutputs(["kelp"], OutputArrangement.Shared)).FindLayer("kelp")!;
        string[] channels = [.. Assert.Single(together.Outputs).Passes.SelectMany(p => p.Channels.Keys)];
        Assert.Equal(channels.Length, channels.Distinct().Count());
    }
}
