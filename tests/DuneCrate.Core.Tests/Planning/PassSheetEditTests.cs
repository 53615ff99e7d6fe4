using DuneCrate.StandIns.Renderer;

namespace DuneCrate.Core.Tests.Planning;

public class PassSheetEditTests
{
    private static readonly Plan Empty = new() { Show = new ShowPlan { Code = "KELP" }, Shot = new ShotPlan { Code = "KP040", Frames = FrameSet.Parse("1-360"), Width = 64, Height = 36 } };

    private static Plan WithSub(params string[] passes) => passes.Aggregate(PassSheetEdit.AddLayer(Empty, "sub", AlphaMode.Premultiplied), (plan, pass) => PassSheetEdit.TogglePass(plan, "sub", pass));

    private static string[] Passes(Plan plan) => [.. plan.Layers[0].Outputs.SelectMany(o => o.Passes).Select(p => p.Pass)];

    private static LayerSettings Settings(Plan plan, OutputArrangement arrangement) => new("sub", null, plan.Layers[0].Alpha, arrangement, plan.Layers[0].Outputs[0].Template, 4, "zip", plan.Layers[0].Rebuild);

    [Fact]
    public void A_new_layer_begins_with_a_beauty_and_is_valid()
    {
        Plan plan = WithSub();
        Assert.Equal(["beauty"], Passes(plan));
        Assert.Equal(["R", "G", "B", "A"], plan.Layers[0].Outputs[0].Passes[0].Channels.Keys);
        Assert.Empty(PlanValidation.Check(plan));
    }

    [Fact]
    public void Toggling_twice_is_as_before()
    {
        Plan once = WithSub("depth");
        Assert.Equal(["beauty", "depth"], Passes(once));
        Assert.Equal(ChannelType.Float, once.Layers[0].Outputs[0].Passes[1].Channels["Z"]);
        Assert.Equal(PlanDocument.Write(WithSub()), PlanDocument.Write(PassSheetEdit.TogglePass(once, "sub", "depth")));
    }

    [Fact]
    public void The_sum_follows_the_light_passes()
    {
        Plan plan = WithSub("diffuse_direct", "diffuse_indirect", "specular");
        Assert.Equal(["diffuse_direct", "diffuse_indirect", "specular"], plan.Layers[0].Rebuild.Select(t => t.ToString()));
        Assert.Equal(["diffuse_direct", "diffuse_indirect"], PassSheetEdit.TogglePass(plan, "sub", "specular").Layers[0].Rebuild.Select(t => t.ToString()));
    }

    [Fact]
    public void A_sum_of_ones_own_is_only_cleared_of_what_is_gone()
    {
        Plan plan = WithSub("diffuse_direct", "diffuse_indirect", "specular");
        plan = PassSheetEdit.SetLayer(plan, "sub", Settings(plan, OutputArrangement.Shared) with { Rebuild = RebuildProposal.Parse("diffuse_direct + specular") });
        Assert.Equal(["diffuse_direct"], PassSheetEdit.TogglePass(plan, "sub", "specular").Layers[0].Rebuild.Select(t => t.ToString()));
        Assert.Equal(["diffuse_direct", "specular"], PassSheetEdit.TogglePass(plan, "sub", "emission").Layers[0].Rebuild.Select(t => t.ToString()));
    }

    [Fact]
    public void Arrangements_turn_into_each_other()
    {
        Plan plan = WithSub("depth", "ao");
        Plan split = PassSheetEdit.SetLayer(plan, "sub", Settings(plan, OutputArrangement.PerPass));
        Assert.Equal(PassSheetEdit.PerPassTemplate, split.Layers[0].Outputs[0].Template);
        Assert.Equal(3, PlannedOutput.Of(split).Length);
        Plan shared = PassSheetEdit.SetLayer(split, "sub", Settings(split, OutputArrangement.Shared));
        Assert.Equal(PlanDocument.Write(plan), PlanDocument.Write(shared));
    }

    [Fact]
    public void Several_outputs_become_one_with_all_passes()
    {
        Plan plan = StandInPlan.For("KP010", FrameSet.Of(1001));
        Assert.Equal(OutputArrangement.Mixed, PassSheetEdit.ArrangementOf(plan.Layers[0]));
        Plan shared = PassSheetEdit.SetLayer(plan, "sub", Settings(plan, OutputArrangement.Shared));
        Assert.Equal(Passes(plan), Passes(shared));
        Assert.Single(shared.Layers[0].Outputs);
    }

    [Fact]
    public void A_pass_joins_the_output_of_its_kind()
    {
        Plan plan = PassSheetEdit.TogglePass(StandInPlan.For("KP010", FrameSet.Of(1001)), "kelp", "position");
        Assert.Contains(plan.Layers[1].Outputs[1].Passes, p => p.Pass == "position");
    }

    [Fact]
    public void Alpha_goes_and_comes_with_the_layers_mode()
    {
        Plan plan = WithSub();
        Plan without = PassSheetEdit.SetLayer(plan, "sub", Settings(plan, OutputArrangement.Shared) with { Alpha = AlphaMode.None });
        Assert.Equal(["R", "G", "B"], without.Layers[0].Outputs[0].Passes[0].Channels.Keys);
        Assert.Equal(["R", "G", "B", "A"], PassSheetEdit.SetLayer(without, "sub", Settings(without, OutputArrangement.Shared) with { Alpha = AlphaMode.Straight }).Layers[0].Outputs[0].Passes[0].Channels.Keys);
    }

    [Fact]
    public void Types_are_set_for_every_channel_of_a_pass()
    {
        Plan plan = PassSheetEdit.SetType(WithSub("normal"), "sub", "normal", ChannelType.Float);
        Assert.All(plan.Layers[0].Outputs[0].Passes[1].Channels.Values, t => Assert.Equal(ChannelType.Float, t));
        Assert.Equal(ChannelType.Half, plan.Layers[0].Outputs[0].Passes[0].Channels["R"]);
    }

    [Fact]
    public void Preview_names_first_and_last()
    {
        Plan plan = WithSub();
        Assert.Equal("sub/KP040_sub.0001.exr … 0360", PassSheetEdit.Preview(plan, plan.Layers[0]));
    }

    [Fact]
    public void An_unknown_pass_is_refused() => Assert.Contains("is not a pass", Assert.Throws<ArgumentException>(() => PassSheetEdit.TogglePass(WithSub(), "sub", "glimmer")).Message);

    [Fact]
    public void A_removed_layer_is_gone() => Assert.Empty(PassSheetEdit.RemoveLayer(WithSub(), "sub").Layers);

    [Theory] // Families that sum, and what would count light twice: common practice.
    [InlineData("beauty diffuse_direct diffuse_indirect specular", "diffuse_direct + diffuse_indirect + specular")]
    [InlineData("beauty diffuse diffuse_direct diffuse_indirect specular", "diffuse_direct + diffuse_indirect + specular")]
    [InlineData("beauty diffuse specular reflection", "diffuse + specular + reflection")]
    [InlineData("beauty lighting gi reflection", "reflection + lighting + gi")]
    [InlineData("beauty albedo irradiance specular", "albedo × irradiance + specular")]
    [InlineData("beauty light_group.lamp light_group.sun", "light_group.lamp + light_group.sun")]
    [InlineData("diffuse specular", "")]
    [InlineData("beauty diffuse", "")]
    public void Proposals_count_no_light_twice(string passes, string sum) => Assert.Equal(sum, string.Join(" + ", RebuildProposal.Of(passes.Split(' '))));

    [Fact]
    public void Sums_are_read_from_text()
    {
        Assert.Equal(["diffuse", "albedo × irradiance"], RebuildProposal.Parse(" diffuse + albedo*irradiance ").Select(t => t.ToString()));
        Assert.Empty(RebuildProposal.Parse(" "));
        Assert.Throws<FormatException>(() => RebuildProposal.Parse("a*b*c"));
    }
}
