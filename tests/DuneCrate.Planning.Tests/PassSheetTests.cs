using DuneCrate.Planning.Sheet;
using DuneCrate.StandIns.Renderer;
using static DuneCrate.Testing.PlanMaker;

namespace DuneCrate.Planning.Tests;

public class PassSheetTests
{
    private static readonly Plan StandIn = StandInPlan.Create("KP010", FrameSet.Single(1001));

    private static string Read(Plan plan, string layer, string pass) => PassSheet.Read(plan, plan.FindLayer(layer)!, pass).ToString();

    [Fact]
    public void A_new_layer_begins_with_a_beauty_and_is_valid()
    {
        Plan plan = WithSub();
        Assert.Equal(["beauty"], plan.Passes());
        Assert.Equal(["R", "G", "B", "A"], plan.Layers[0].Outputs[0].Passes[0].Channels.Keys);
        Assert.Empty(PlanValidation.Check(plan));
    }

    [Fact]
    public void Planning_and_taking_out_is_as_before()
    {
        Plan once = WithSub("depth");
        Assert.Equal(ChannelType.Float, once.Layers[0].Outputs[0].Passes[1].Channels["Z"]);
        Assert.Equal(WithSub().Text(), once.Cell("sub", "depth", "").Text());
    }

    [Fact]
    public void Every_cell_of_a_real_plan_written_back_changes_nothing()
    {
        Plan plan = StandIn;
        foreach (LayerPlan layer in StandIn.Layers)
        {
            foreach (PassPlan pass in layer.AllPasses)
            {
                plan = plan.Cell(layer.Name, pass.Pass, Read(plan, layer.Name, pass.Pass));
            }
        }

        Assert.Equal(StandIn.Text(), plan.Text());
    }

    [Fact]
    public void Off_is_kept_and_not_rendered()
    {
        Plan plan = WithSub("depth").Cell("sub", "depth", "off float");
        Assert.Equal("off float shared", Read(plan, "sub", "depth"));
        Assert.Equal(["beauty"], PlannedOutput.From(plan).SelectMany(o => o.Passes).Select(p => p.Pass));
        Assert.Empty(PlannedOutput.From(plan.Apply(new SetLayer("sub") { Off = true })));
        Assert.Equal(
            ["beauty", "depth"],
            PlannedOutput.From(plan.Cell("sub", "depth", "float")).SelectMany(o => o.Passes).Select(p => p.Pass)
        );
    }

    [Fact]
    public void Passes_move_between_files_and_empty_files_go()
    {
        Plan plan = WithSub("depth", "ao").Cell("sub", "depth", "float data").Cell("sub", "ao", "own");
        Assert.Equal(
            ["sub/KP040_sub.####.exr", "sub_data/KP040_sub_data.####.exr", "sub_ao/KP040_sub_ao.####.exr"],
            PlannedOutput.From(plan).Select(o => o.Key)
        );
        Assert.Equal(("float data", "half own"), (Read(plan, "sub", "depth"), Read(plan, "sub", "ao")));
        plan = plan.Cell("sub", "depth", "float shared").Cell("sub", "ao", "shared");
        Assert.Single(plan.Layers[0].Outputs);
    }

    [Fact]
    public void Frames_of_its_own_give_a_pass_a_file_of_its_own()
    {
        Plan plan = WithSub("depth").Cell("sub", "depth", "float frames=1-10");
        PlannedOutput depth = PlannedOutput.From(plan).First(o => o.Passes[0].Pass == "depth");
        Assert.Equal(("sub_depth/KP040_sub_depth.####.exr", "1-10"), (depth.Key, depth.Frames.ToString()));
        Assert.Equal("1-360", PlannedOutput.From(plan)[0].Frames.ToString());
    }

    [Fact]
    public void The_lead_is_one_cell_and_falls_back_to_the_beauty()
    {
        Plan plan = WithSub("depth").Cell("sub", "depth", "float lead");
        Assert.Equal("depth", plan.Layers[0].LeadPass);
        Assert.Equal("beauty", plan.Cell("sub", "depth", "float").Layers[0].LeadPass);
        Assert.Equal("beauty", plan.Cell("sub", "depth", "").Layers[0].LeadPass);
        Plan moved = plan.Cell("sub", "beauty", "half lead");
        Assert.Equal(("half shared lead", "float shared"), (Read(moved, "sub", "beauty"), Read(moved, "sub", "depth")));
    }

    [Fact]
    public void Alpha_threshold_and_filter_are_kept()
    {
        Plan plan = WithSub("specular", "depth")
            .Cell("sub", "specular", "half alpha")
            .Cell("sub", "depth", "float edge=0.5 filtered")
            .Cell("sub", "beauty", "half noalpha");
        Assert.Equal(["specular.R", "specular.G", "specular.B", "specular.A"], plan.Layers[0].FindPass("specular")!.Channels.Keys);
        Assert.Equal(
            ("half shared alpha", "float shared filtered edge=0.5", "half shared noalpha"),
            (Read(plan, "sub", "specular"), Read(plan, "sub", "depth"), Read(plan, "sub", "beauty"))
        );
        Assert.Equal(["R", "G", "B"], plan.Layers[0].FindPass("beauty")!.Channels.Keys);
    }

    [Fact]
    public void A_new_data_pass_joins_the_data_file_and_a_new_pass_of_a_file_per_pass_layer_gets_its_own()
    {
        Assert.Equal("float data", Read(StandIn.Cell("kelp", "position", "x"), "kelp", "position"));
        Plan split = new ArrangeOutputs(["kelp"], OutputArrangement.PerPass).Apply(StandIn).Cell("kelp", "emission", "x");
        Assert.Equal("half own", Read(split, "kelp", "emission"));
    }

    [Fact]
    public void The_sum_follows_the_light_passes()
    {
        Plan plan = WithSub("direct_diffuse", "indirect_diffuse", "specular");
        Assert.Equal("direct_diffuse + indirect_diffuse + specular", string.Join(" + ", plan.Layers[0].Rebuild));
        Assert.Equal("direct_diffuse + indirect_diffuse", string.Join(" + ", plan.Cell("sub", "specular", "").Layers[0].Rebuild));
    }

    [Fact]
    public void A_sum_of_ones_own_is_only_cleared_of_what_is_gone()
    {
        Plan plan = WithSub("direct_diffuse", "indirect_diffuse", "specular")
            .Apply(new SetLayer("sub") { Rebuild = "direct_diffuse + specular" });
        Assert.Equal("direct_diffuse", string.Join(" + ", plan.Cell("sub", "specular", "").Layers[0].Rebuild));
        Assert.Equal("direct_diffuse + specular", string.Join(" + ", plan.Cell("sub", "emission", "x").Layers[0].Rebuild));
    }

    [Fact]
    public void Unknown_passes_and_cells_are_refused_at_their_field()
    {
        Assert.Equal("pass", Assert.Throws<PlanEditException>(() => WithSub("glimmer")).Field);
        Assert.Contains("nearest", Assert.Throws<PlanEditException>(() => WithSub("glimmer")).Message);
        Assert.Equal("cell", Assert.Throws<PlanEditException>(() => WithSub().Cell("sub", "depth", "wet")).Field);
        Assert.Equal("layer", Assert.Throws<PlanEditException>(() => WithSub().Cell("kelp", "depth", "x")).Field);
    }

    [Fact]
    public void The_table_has_a_line_per_planned_pass_and_cells_that_read_back()
    {
        string[] lines = SheetTable.Write(WithSub("depth").Cell("sub", "depth", "float own edge=0.5")).Split('\n');
        Assert.Equal(["pass,sub", "beauty,half shared", "depth,float own edge=0.5", ""], lines);
    }

    [Fact]
    public void A_shows_own_pass_and_alias_are_in_the_catalogue()
    {
        Plan plan = Empty with
        {
            Show = Empty.Show with
            {
                Passes = [new PassAddition("caustics", "caustics", PassKind.Light, ["R", "G", "B"], ChannelType.Half, true, "plus", "")],
                Aliases = new() { ["glow"] = "emission" },
            },
        };
        plan = plan.Apply(new AddLayer("sub")).Cell("sub", "caustics", "x");
        Assert.Equal(["caustics.R", "caustics.G", "caustics.B"], plan.Layers[0].FindPass("caustics")!.Channels.Keys);
        Assert.Equal("emission", plan.Catalogue.PassOfChannel("glow.R"));
        Assert.Null(PassCatalogue.Shipped.PassOfChannel("glow.R"));
        Assert.Empty(PlanValidation.Check(plan));
        Assert.Empty(PlanValidation.Check(PlanDocument.Read(plan.Text()).Plan!));
    }

    [Theory] // Families that sum, and what would count light twice: common practice.
    [InlineData("beauty direct_diffuse indirect_diffuse specular", "direct_diffuse + indirect_diffuse + specular")]
    [InlineData("beauty diffuse direct_diffuse indirect_diffuse specular", "direct_diffuse + indirect_diffuse + specular")]
    [InlineData("beauty diffuse specular reflection", "diffuse + specular + reflection")]
    [InlineData("beauty direct_light indirect_light reflection", "reflection + direct_light + indirect_light")]
    [InlineData("beauty albedo irradiance specular", "albedo × irradiance + specular")]
    [InlineData("beauty light_group.lamp light_group.sun", "light_group.lamp + light_group.sun")]
    [InlineData("diffuse specular", "")]
    [InlineData("beauty diffuse", "")]
    public void Proposals_count_no_light_twice(string passes, string sum) =>
        Assert.Equal(sum, string.Join(" + ", RebuildSum.Propose(PassCatalogue.Shipped, passes.Split(' '))));

    [Fact]
    public void Sums_are_read_from_text()
    {
        Assert.Equal(["diffuse", "albedo × irradiance"], RebuildSum.Parse(" diffuse + albedo*irradiance ").Select(t => t.ToString()));
        Assert.Empty(RebuildSum.Parse(" "));
        Assert.Throws<FormatException>(() => RebuildSum.Parse("a*b*c"));
    }
}
