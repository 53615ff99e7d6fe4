using DuneCrate.Crates.Recipes;
using DuneCrate.Foundation.Rules;
using DuneCrate.Imaging;
using DuneCrate.Planning.Rules;
using DuneCrate.Planning.Scene;
using DuneCrate.Planning.Sheet;
using DuneCrate.Planning.Suggestions;
using DuneCrate.StandIns.Demo;
using static DuneCrate.Testing.PlanMaker;

namespace DuneCrate.Planning.Tests;

/// <summary>Each plan rule speaks on its mistake, is silent on a sound plan, and its one-click remedy silences it.</summary>
public class PlanRulesTests
{
    private static readonly Plan Demo = DemoPlan.Create("KP010", FrameSet.Parse("1001-1024"));

    private static PlanFinding[] Found(Plan plan, string rule, long? free = null) =>
        [.. PlanRuleBook.Check(PlanContext.Create(plan, free)).Where(f => f.Rule == rule)];

    private static Plan Template(Plan plan, string template, PassHome home = PassHome.Shared) =>
        plan with
        {
            Layers =
            [
                .. plan.Layers.Select(l =>
                    l with
                    {
                        Outputs = [.. l.Outputs.Select(o => PassSheet.HomeOf(l, o) == home ? o with { Template = template } : o)],
                    }
                ),
            ],
        };

    /// <summary>Rule, the mistake made in the demo's plan, the layer it stands at.</summary>
    public static TheoryData<string, Func<Plan, Plan>, string?, Severity> Mistakes =>
        new()
        {
            { "plan.range", p => p.Apply(new SetLayer("kelp") { Frames = "990-1010" }), "kelp", Severity.Blocker },
            { "plan.range", p => p.Cell("kelp", "ao", "half own frames=1-3"), "kelp", Severity.Blocker },
            { "plan.padding", p => p.Apply(new SetOutputs(["sub"], PassHome.Shared) { Padding = "3" }), "sub", Severity.Blocker },
            {
                "plan.collision",
                p => p.Apply(new SetOutputs(["kelp"], PassHome.Shared) { Template = "sub/{shot}_SUB.{frame}.exr" }),
                "kelp",
                Severity.Blocker
            },
            {
                "plan.name",
                p => p.Apply(new SetOutputs(["sub"], PassHome.Shared) { Template = "{layer}/{shot}_{layer}.exr" }),
                "sub",
                Severity.Blocker
            },
            {
                "plan.name",
                p => p.Apply(new SetOutputs(["sub"], PassHome.Shared) { Template = "{layer}/{shot} {layer}.{frame}.exr" }),
                "sub",
                Severity.Blocker
            },
            { "plan.depth", p => p.Cell("sub", "depth", "half"), "sub", Severity.Warning },
            { "plan.depth", p => p.Cell("sub", "specular", "float"), "sub", Severity.Note },
            { "plan.format", p => p.Cell("kelp", "ao", "uint8"), "kelp", Severity.Blocker },
            {
                "plan.format",
                p =>
                    p.Cell("kelp", "ao", "half own")
                        .Apply(new SetOutputs(["kelp"], PassHome.Own) { Template = "{layer}_{pass}.{frame}.png" }),
                "kelp",
                Severity.Blocker
            },
            {
                "plan.format",
                p => p.Apply(new SetOutputs(["kelp"], PassHome.Shared) { Template = "{layer}/{layer}.{frame}.tif" }),
                "kelp",
                Severity.Blocker
            },
            { "plan.lossy", p => p.Apply(new SetOutputs(["sub"], PassHome.Data) { Compression = "dwaa" }), "sub", Severity.Blocker },
            { "plan.alpha", p => p.Apply(new SetLayer("kelp") { Alpha = AlphaMode.None }), "kelp", Severity.Warning },
            { "plan.filter", p => p.Cell("sub", "depth", "float filtered"), "sub", Severity.Warning },
            { "plan.filter", p => p.Apply(new SetSettings(["sub"], "filter_data", "gaussian 1.5")), "sub", Severity.Warning },
            { "plan.rebuild", p => p.Cell("sub", "emission", ""), "sub", Severity.Warning },
            { "plan.rebuild", p => p.Cell("kelp", "specular", "off half"), "kelp", Severity.Warning },
            {
                "plan.rebuild",
                p =>
                    p.Cell("kelp", "diffuse", "half")
                        .Apply(new SetLayer("kelp") { Rebuild = "diffuse + direct_diffuse + indirect_diffuse + specular" }),
                "kelp",
                Severity.Warning
            },
            { "plan.ids", p => p.Apply(new PutItems([new SceneItem { Name = "anchor", Id = 1 }])), null, Severity.Blocker },
            { "plan.ids", p => p.Apply(new SetAskedIds("sub", "object_id", "1-3,9")), "sub", Severity.Blocker },
            { "plan.ids", p => p.Apply(new WriteItems([new("glass", "colour", "#ff0000")])), null, Severity.Blocker },
            { "plan.ids", p => p.Apply(new WriteItems([new("glass", "colour", "#fa0808")])), null, Severity.Blocker },
            { "plan.double-blur", p => p.Apply(new SetSettings(["sub"], "motion_blur", "yes")), "sub", Severity.Warning },
            { "plan.double-blur", p => p.Apply(new SetSettings(["kelp"], "defocus", "yes")), "kelp", Severity.Warning },
            {
                "plan.occlusion",
                p => p.Apply(new SetRoles(["dome"], ["sub_occlusion"], ItemRole.Shown)),
                "sub_occlusion",
                Severity.Warning
            },
            { "plan.occlusion", p => p.Cell("sub", "ao", "x"), "sub", Severity.Warning },
            { "plan.hidden-emission", p => p.Apply(new WriteItems([new("mail_sack", "traits", "emits")])), "sub", Severity.Note },
            { "plan.scene", p => p.Cell("seabed", "emission", "x"), "seabed", Severity.Note },
            { "plan.scene", p => p.Apply(new WriteItems([new("kelp", "traits", "glossy scattering animated")])), "kelp", Severity.Note },
            { "plan.idle", p => p.Apply(new SetSettings(["seabed"], "samples.scattering", "16")), "seabed", Severity.Note },
            { "plan.idle", p => p.Apply(new SetSettings(["kelp"], "bounces.refraction", "12")), "kelp", Severity.Note },
            { "plan.camera", p => p.Apply(new SetShot { Camera = "cam_wide" }), null, Severity.Blocker },
            { "plan.camera", p => p.Apply(new SetShot { Camera = "" }), null, Severity.Blocker },
            { "plan.holdout", p => p.Apply(new SetRoles(["hull"], ["kelp"], ItemRole.Hidden)), "kelp", Severity.Warning },
        };

    [Theory]
    [MemberData(nameof(Mistakes))]
    public void A_mistake_is_found_where_it_stands(string rule, Func<Plan, Plan> mistake, string? layer, Severity severity)
    {
        Assert.Empty(Found(Demo, rule));
        PlanFinding finding = Found(mistake(Demo), rule)[0];
        Assert.Equal((layer, severity), (finding.Layer, finding.Severity));
        Assert.NotEqual("", finding.Message);
        Assert.NotEqual("", finding.Remedy);
    }

    [Theory]
    [MemberData(nameof(Mistakes))]
    public void The_one_click_remedy_mends_it(string rule, Func<Plan, Plan> mistake, string? layer, Severity severity)
    {
        Plan plan = mistake(Demo);
        PlanFinding finding = Found(plan, rule)[0];
        Assert.Equal((layer, severity), (finding.Layer, finding.Severity));
        if (finding.Fix is { } fix)
        {
            Assert.Empty(Found(fix.Apply(plan), rule));
        }
        else
        {
            Assert.Contains(rule, new[] { "plan.camera" });
        }
    }

    [Fact]
    public void Every_rule_of_the_book_has_its_line_in_the_table_above() =>
        Assert.Equal(
            PlanRuleBook.All.Select(r => r.Id).Except(["plan.space", "plan.receiver"]).Order(),
            Mistakes.Select(m => m.Data.Item1).Distinct().Order()
        );

    [Fact]
    public void The_demos_plan_has_nothing_to_be_mended() => Assert.Empty(PlanRuleBook.Check(PlanContext.Create(Demo, 1L << 40)));

    [Fact]
    public void Too_little_room_blocks()
    {
        Assert.Empty(Found(Demo, "plan.space", 1L << 40));
        PlanFinding finding = Assert.Single(Found(Demo, "plan.space", 1 << 20));
        Assert.Contains("1.00 MiB are left", finding.Message);
    }

    [Fact]
    public void What_a_receiver_asks_for_and_nothing_plans_is_told()
    {
        ReceiverGap[] gaps = [.. RecipeGaps.Of(new CrateRecipe { Receiver = "Tide Room", Only = ["beauty", "thickness"] }, Demo)];
        PlanFinding finding = Assert.Single(PlanRuleBook.Check(PlanContext.Create(Demo) with { Gaps = [.. gaps] }));
        Assert.Equal(("plan.receiver", Severity.Warning), (finding.Rule, finding.Severity));
        Assert.Equal("Tide Room: asks for thickness, and nothing plans it.", finding.Message);
    }

    [Fact]
    public void A_show_changes_severities_thresholds_and_switches_rules_off()
    {
        Plan plan = Demo.Cell("sub", "depth", "half");
        Plan Ruled(string rule, RuleSetting setting) => plan with { Show = plan.Show with { Rules = new() { [rule] = setting } } };
        Assert.Equal(
            Severity.Blocker,
            Found(Ruled("plan.depth", new RuleSetting { Severity = Severity.Blocker }), "plan.depth")[0].Severity
        );
        Assert.Empty(Found(Ruled("plan.depth", new RuleSetting { Off = true }), "plan.depth"));
        Assert.NotEmpty(Found(Ruled("plan.ids", new RuleSetting { Thresholds = new() { ["nearest"] = 60 } }), "plan.ids"));
    }

    [Fact]
    public void Passes_are_suggested_with_the_reason_and_accepted_by_one_edit()
    {
        Plan plan = WithSub()
            .Apply(
                new PutItems([
                    new SceneItem
                    {
                        Name = "sign",
                        Traits = [ItemTrait.Emits],
                        Behind = "pane",
                    },
                    new SceneItem { Name = "lamp", Traits = [ItemTrait.Emits] },
                    new SceneItem { Name = "pane", Traits = [ItemTrait.Transparent] },
                    new SceneItem { Name = "wax", Traits = [ItemTrait.Scattering] },
                    new SceneItem { Name = "sun", Kind = ItemKind.Light },
                    new SceneItem { Name = "moon", Kind = ItemKind.Light },
                ])
            );
        PassSuggestion[] found = [.. PassSuggestions.Compute(plan)];
        Assert.Equal(
            ["reflection", "refraction", "scattering", "emission", "matte.a", "cryptomatte.object", "depth", "light_group.*"],
            found.Select(s => s.Pass)
        );
        Assert.Equal("sign and lamp emit", found.First(s => s.Pass == "emission").Reason);
        Assert.Contains("behind pane", found.First(s => s.Pass == "matte.a").Reason);
        foreach (PassSuggestion suggestion in found)
        {
            plan = suggestion.Edit.Apply(plan);
        }

        Assert.Empty(PassSuggestions.Compute(plan));
        Assert.Empty(PlanValidation.Check(plan));
        Assert.Equal(["sign"], plan.Layers[0].FindPass("matte.a")!.Masks!.Values);
        Assert.Contains("light_group.moon", plan.Passes());
    }

    [Fact]
    public void Contents_follow_from_roles_and_traits()
    {
        static PassContents ContentsOf(string layer, string pass) =>
            PassContents.Compute(Demo, Demo.FindLayer(layer)!, Demo.FindLayer(layer)!.FindPass(pass)!);
        Assert.Equal(["hull", "dome", "lamps", "fins", "mail_sack"], ContentsOf("sub", "beauty").Items.ToArray());
        Assert.Equal(["kelp"], ContentsOf("sub", "beauty").Holes.ToArray());
        Assert.Equal(["lamps"], ContentsOf("sub", "emission").Items.ToArray());
        Assert.Equal(["hull", "dome", "lamps"], ContentsOf("sub", "matte.sub").Items.ToArray());
        Assert.Equal(["hull", "dome", "lamps", "fins", "mail_sack", "kelp"], ContentsOf("seabed", "shadow").Unseen.ToArray());
        Assert.Empty(ContentsOf("kelp", "object_id").Warnings);
        Plan careless = Demo.Apply(new SetRoles(["hull"], ["kelp"], ItemRole.Hidden));
        Assert.Contains(
            "no holdout",
            Assert.Single(
                PassContents.Compute(careless, careless.FindLayer("kelp")!, careless.FindLayer("kelp")!.FindPass("object_id")!).Warnings
            )
        );
    }
}
