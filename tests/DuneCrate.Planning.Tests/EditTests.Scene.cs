using System.Text.Json;
using DuneCrate.Foundation.Documents;
using DuneCrate.Planning.Scene;
using static DuneCrate.Testing.EditSamples;
using static DuneCrate.Testing.PlanMaker;

namespace DuneCrate.Planning.Tests;

/// <content>Roster, roles, ids, and what holds for every edit.</content>
public partial class EditTests
{
    [Fact]
    public void Roles_hold_for_all_passes_and_go_with_their_item()
    {
        Assert.Equal(ItemRole.Holdout, Demo.FindLayer("sub")!.RoleOf("kelp"));
        Plan gone = new RemoveItems(["kelp"]).Apply(Demo);
        Assert.Equal(ItemRole.Shown, gone.FindLayer("sub")!.RoleOf("kelp"));
        Assert.Contains("no item", Refused(Demo, new SetRoles(["whale"], ["sub"], ItemRole.Hidden)));
        Plan pasted = new WriteRoles([
            new("hull", "kelp", "shadow only"),
            new("dome", "kelp", ""),
            new("lamps", "kelp", "Reflection-Only"),
        ]).Apply(Demo);
        Assert.Equal(
            [ItemRole.ShadowOnly, ItemRole.Shown, ItemRole.ReflectionOnly],
            new[] { "hull", "dome", "lamps" }.Select(pasted.FindLayer("kelp")!.RoleOf)
        );
        Assert.Contains("not a role", Refused(Demo, new WriteRoles([new("hull", "kelp", "gone")])));
    }

    [Fact]
    public void A_renamed_item_keeps_roles_changes_and_what_is_behind_it()
    {
        Plan plan = new WriteItems([new("dome", "name", "bubble"), new("hull", "traits", "glossy")]).Apply(Demo);
        Assert.Equal(ItemRole.Hidden, plan.FindLayer("sub_occlusion")!.RoleOf("bubble"));
        Assert.Equal("bubble", plan.Items.First(i => i.Name == "mail_sack").Behind);
        Assert.Equal(ItemTrait.Glossy, plan.Items.First(i => i.Name == "hull").Traits.Single());
        Assert.Contains("already", Refused(Demo, new RenameItem("dome", "HULL")));
        Assert.Contains("not a trait", Refused(Demo, new WriteItems([new("hull", "traits", "wet")])));
        Assert.Contains("not an object id", Refused(Demo, new WriteItems([new("hull", "id", "one")])));
    }

    [Fact]
    public void Ids_are_assigned_without_collisions_and_kept_where_they_are_good()
    {
        Plan plan = Demo.Apply(new PutItems([new SceneItem { Name = "anchor", Id = 3 }, new SceneItem { Name = "buoy" }]), new AssignIds());
        Assert.Equal(
            (3, 8, 9),
            (
                plan.Items.First(i => i.Name == "lamps").Id,
                plan.Items.First(i => i.Name == "anchor").Id,
                plan.Items.First(i => i.Name == "buoy").Id
            )
        );
        Assert.Null(plan.Items.First(i => i.Kind == ItemKind.Camera).Id);
    }

    [Fact]
    public void Flat_colours_are_far_apart_and_good_ones_stay()
    {
        Plan plan = new PutItems([
            .. Enumerable.Range(0, 20).Select(i => new SceneItem { Name = $"cloth_{i}", Kind = ItemKind.Material }),
        ]).Apply(Demo);
        plan = new AssignColours().Apply(plan);
        string[] colours = [.. plan.Items.Where(i => i.Kind == ItemKind.Material).Select(i => i.Colour!)];
        Assert.Equal(25, colours.Distinct().Count());
        Assert.Equal("#ff0000", plan.Items.First(i => i.Name == "hull_paint").Colour);
        Assert.All(
            from a in colours
            from b in colours
            where a != b
            select FlatColours.Difference(a, b),
            d => Assert.True(d > FlatColours.TooNear)
        );
    }

    [Fact]
    public void Mattes_are_packed_four_to_a_pass_and_packed_anew()
    {
        Plan plan = WithSub()
            .Apply(
                new PutItems([.. "abcdef".Select(c => new SceneItem { Name = $"item_{c}", Mask = $"mask_{c}" })]),
                new PackMattes("sub")
            );
        PassPlan first = plan.Layers[0].FindPass("matte.a")!,
            second = plan.Layers[0].FindPass("matte.b")!;
        Assert.Equal(["mask_a", "mask_b", "mask_c", "mask_d"], first.Masks!.Values);
        Assert.Equal(["matte.b.R", "matte.b.G"], second.Channels.Keys);
        plan = plan.Apply(new RemoveItems(["item_e", "item_f"]), new PackMattes("sub"));
        Assert.Null(plan.Layers[0].FindPass("matte.b"));
        Assert.Contains("no item", Refused(WithSub(), new PackMattes("sub")).ToLowerInvariant());
    }

    [Fact]
    public void Test_frames_belong_to_the_shot()
    {
        Assert.Equal(1024, Demo.Apply(new SetTestFrame(1024, 0.5)).Shot.TestFrame!.Frame);
        Assert.Null(Demo.Apply(new SetTestFrame(1024), new SetTestFrame(null)).Shot.TestFrame);
        Assert.Contains("is not in the shot", Refused(Demo, new SetTestFrame(1)));
        Assert.Contains("above 0", Refused(Demo, new SetTestFrame(1024, 2)));
    }

    [Fact]
    public void A_shot_made_from_another_keeps_all_but_what_is_its_own()
    {
        Plan source = Demo.Apply(
            new SetLayer("kelp") { Frames = "1001-1012" },
            new SetTestFrame(1024, 0.5),
            new SetLayer("seabed") { Frames = "1001" }
        );
        Plan copy = PlanCopy.Create(source, "KP090", FrameSet.Parse("2001-2008"), "cam_witness");
        Assert.Equal(("KP090", "2001-2008", "cam_witness"), (copy.Shot.Code, copy.Shot.Frames.ToString(), copy.Shot.Camera));
        Assert.Equal(("2001-2008", "2001"), (copy.FindLayer("kelp")!.Frames!.ToString(), copy.FindLayer("seabed")!.Frames!.ToString()));
        Assert.Null(copy.Shot.TestFrame);
        Assert.Equal(source.Passes(), copy.Passes());
        Assert.Empty(PlanValidation.Check(copy));
    }

    [Fact]
    public void Every_edit_survives_the_way_through_json()
    {
        Assert.Equal(
            typeof(PlanEdit).GetCustomAttributes(typeof(System.Text.Json.Serialization.JsonDerivedTypeAttribute), false).Length,
            OneOfEach.Select(e => e.GetType()).Distinct().Count()
        );
        foreach (PlanEdit edit in OneOfEach)
        {
            PlanEdit read = JsonSerializer.Deserialize<PlanEdit>(JsonSerializer.Serialize(edit, AnyJson.Options), AnyJson.Options)!;
            Assert.Equal(edit.Apply(Demo).Text(), read.Apply(Demo).Text());
            Assert.NotEqual("", read.Description);
        }
    }
}
