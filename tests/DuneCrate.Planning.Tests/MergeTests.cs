using DuneCrate.Planning.Merging;
using DuneCrate.StandIns.Demo;
using static DuneCrate.Testing.PlanMaker;

namespace DuneCrate.Planning.Tests;

public class MergeTests
{
    private static readonly Plan Demo = DemoPlan.Create("KP010", FrameSet.Parse("1001-1024"));

    [Fact]
    public void Changes_in_different_places_come_together()
    {
        Plan mine = Demo.Cell("sub", "depth", "half"),
            theirs = Demo.Apply(new SetShot { Camera = "cam_witness" }).Cell("kelp", "ao", "");
        (Plan merged, var conflicts) = PlanMerge.Merge(Demo, mine, theirs);
        Assert.Empty(conflicts);
        Assert.Equal(theirs.Cell("sub", "depth", "half").Text(), merged.Text());
    }

    [Fact]
    public void The_same_change_twice_is_no_conflict()
    {
        Plan mine = Demo.Cell("sub", "depth", "half");
        Assert.Empty(PlanMerge.Merge(Demo, mine, Demo.Cell("sub", "depth", "half")).Conflicts);
    }

    [Fact]
    public void Different_changes_of_one_cell_are_a_conflict_named_in_words_and_theirs_stays()
    {
        Plan mine = Demo.Cell("sub", "depth", "half"),
            theirs = Demo.Cell("sub", "depth", "uint");
        (Plan merged, var conflicts) = PlanMerge.Merge(Demo, mine, theirs);
        Assert.Equal("sub · depth · Z", conflicts.Single());
        Assert.Equal(theirs.Text(), merged.Text());
    }

    [Fact]
    public void Changing_what_the_other_took_out_is_a_conflict()
    {
        (_, var conflicts) = PlanMerge.Merge(Demo, Demo.Cell("sub", "depth", "half"), Demo.Apply(new RemoveLayer("sub")));
        Assert.NotEmpty(conflicts);
    }

    [Fact]
    public void Both_may_add_layers_and_move_others()
    {
        Plan mine = Demo.Apply(new AddLayer("fish")),
            theirs = Demo.Apply(new MoveLayer("seabed", -99), new AddLayer("crab"));
        (Plan merged, var conflicts) = PlanMerge.Merge(Demo, mine, theirs);
        Assert.Empty(conflicts);
        Assert.Equal(["seabed", "fish", "sub", "sub_occlusion", "kelp", "crab"], merged.Layers.Select(l => l.Name));
    }

    [Fact]
    public void Both_may_add_light_to_one_sum()
    {
        Plan plan = WithSub("diffuse", "specular");
        (Plan merged, var conflicts) = PlanMerge.Merge(plan, plan.Cell("sub", "emission", "x"), plan.Cell("sub", "refraction", "x"));
        Assert.Empty(conflicts);
        Assert.Equal(["diffuse", "emission", "refraction", "specular"], merged.Layers[0].Rebuild.Select(t => t.ToString()).Order());
    }

    [Fact]
    public void A_step_is_taken_back_under_later_ones()
    {
        Plan step = Demo.Cell("sub", "depth", "half"),
            later = step.Apply(new SetLayer("kelp") { Group = "weeds" });
        (Plan undone, var conflicts) = PlanMerge.Merge(step, Demo, later);
        Assert.Empty(conflicts);
        Assert.Equal(Demo.Apply(new SetLayer("kelp") { Group = "weeds" }).Text(), undone.Text());
    }

    [Fact]
    public void A_layer_follows_its_base_and_keeps_its_differences()
    {
        Plan plan = WithSub("direct_diffuse", "depth").Apply(new AddLayer("copy", BasedOn: "sub")).Cell("copy", "depth", "off float");
        Assert.Equal(
            ["copy · depth · off: yes added".Replace("copy · ", "")],
            PlanMerge.Differences(plan, plan.FindLayer("copy")!).Select(d => d.ToString())
        );
        plan = plan.Cell("sub", "specular", "x").Cell("sub", "direct_diffuse", "").Apply(new SetSettings(["sub"], "samples", "16"));
        Assert.Equal(["beauty", "depth", "specular"], plan.Passes("copy"));
        Assert.Equal("16", plan.FindLayer("copy")!.Settings!["samples"]);
        Assert.True(plan.FindLayer("copy")!.FindPass("depth")!.Off);
        Assert.False(plan.FindLayer("sub")!.FindPass("depth")!.Off);
    }

    [Fact]
    public void Passes_that_move_to_other_files_in_the_base_do_not_come_back_in_layers_without_them()
    {
        string[] before = Demo.Passes("sub_occlusion");
        foreach (OutputArrangement way in new[] { OutputArrangement.PerPass, OutputArrangement.Shared, OutputArrangement.DataApart })
        {
            Plan arranged = new ArrangeOutputs([], way).Apply(Demo);
            Assert.Equal(before, arranged.Passes("sub_occlusion"));
            Assert.Equal(Demo.Passes().Order(), arranged.Passes().Order());
        }
    }

    [Fact]
    public void A_pass_moved_by_one_and_changed_by_another_is_both()
    {
        (Plan merged, var conflicts) = PlanMerge.Merge(
            Demo,
            Demo.Cell("sub", "depth", "float own"),
            Demo.Cell("sub", "depth", "half data")
        );
        Assert.Empty(conflicts);
        Assert.Equal("half own", DuneCrate.Planning.Sheet.PassSheet.Read(merged, merged.FindLayer("sub")!, "depth").ToString());
    }

    [Fact]
    public void A_plan_goes_through_its_tree_unchanged()
    {
        Assert.Equal(
            Demo.Text(),
            PlanMerge.Merge(Demo, Demo, Demo with { Shot = Demo.Shot with { Camera = Demo.Shot.Camera } }).Plan.Text()
        );
        (Plan merged, _) = PlanMerge.Merge(
            Demo,
            Demo.Apply(new SetShot { Rate = "25" }),
            Demo.Apply(new SetShot { Camera = "cam_witness" })
        );
        Assert.Equal(Demo.Apply(new SetShot { Rate = "25", Camera = "cam_witness" }).Text(), merged.Text());
    }

    [Fact]
    public void Chains_of_bases_follow_and_a_removed_base_leaves_the_layer_whole()
    {
        Plan plan = WithSub().Apply(new AddLayer("b", BasedOn: "sub"), new AddLayer("c", BasedOn: "b")).Cell("sub", "depth", "x");
        Assert.Contains("depth", plan.Passes("c"));
        plan = plan.Apply(new RemoveLayer("sub"));
        Assert.Equal((null, "b"), (plan.FindLayer("b")!.BasedOn, plan.FindLayer("c")!.BasedOn));
        Assert.Contains("depth", plan.Passes("b"));
        Assert.Contains(
            "follow each other",
            Assert.Throws<PlanEditException>(() => new SetLayer("b") { BasedOn = "c" }.Apply(plan)).Message
        );
    }

    [Fact]
    public void The_demos_based_on_layer_shows_its_differences()
    {
        string[] said = [.. PlanMerge.Differences(Demo, Demo.FindLayer("sub_occlusion")!).Select(d => d.Where)];
        Assert.Contains("roles · dome", said);
        Assert.Contains("changes", said);
    }

    [Fact]
    public void Two_versions_are_compared_as_a_list_of_changes()
    {
        Plan after = Demo.Cell("sub", "depth", "half")
            .Cell("kelp", "ao", "")
            .Apply(new SetShot { Frames = "1001-1030" }, new RenameItem("hull", "shell"), new MoveLayer("kelp", 1));
        string[] changes = [.. PlanComparison.Between(Demo, after).Select(c => c.ToString())];
        Assert.Contains("shot · frames: 1001-1024 → 1001-1030", changes);
        Assert.Contains("sub · depth · Z: float → half", changes);
        Assert.Contains(changes, c => c.StartsWith("layers", StringComparison.Ordinal) || c.Contains("order"));
        Assert.Contains("kelp · ao: half taken out", changes);
        Assert.Equal(
            ("sub", "depth"),
            PlanComparison.Between(Demo, after).Where(c => c.Pass is not null).Select(c => (c.Layer!, c.Pass!)).First()
        );
        Assert.Empty(PlanComparison.Between(Demo, PlanDocument.Read(Demo.Text()).Plan!));
    }

    [Fact]
    public void Unknown_fields_live_through_merging_and_following()
    {
        string text = Demo.Text().Replace("\"camera\": \"cam_main\"", "\"lens\": 35, \"camera\": \"cam_main\"");
        Plan plan = PlanDocument.Read(text).Plan!;
        Assert.Contains(
            "\"lens\": 35",
            PlanMerge.Merge(plan, plan.Cell("sub", "depth", "half"), plan.Apply(new SetShot { Rate = "25" })).Plan.Text()
        );
    }
}
