using System.Collections.Immutable;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Model;
using DuneCrate.Planning.Scene;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.StandIns.Demo;

/// <summary>
/// The stand-in's plan as a wrangler would leave it: with the roster of <em>The Kelp Post</em>, roles, ids, mask names, render settings,
/// and the
/// submarine's occlusion in a layer of its own that is based on it, without the glass.
/// </summary>
public static class DemoPlan
{
    /// <summary>The roster.</summary>
    public static readonly ImmutableArray<SceneItem> Roster =
    [
        new()
        {
            Name = "hull",
            Traits = [ItemTrait.Glossy, ItemTrait.Animated],
            Id = 1,
            Mask = "hull",
        },
        new()
        {
            Name = "dome",
            Traits = [ItemTrait.Transparent, ItemTrait.Glossy, ItemTrait.Animated],
            Id = 2,
            Mask = "dome",
        },
        new()
        {
            Name = "lamps",
            Traits = [ItemTrait.Emits, ItemTrait.Animated],
            Id = 3,
            Mask = "lamps",
        },
        new()
        {
            Name = "fins",
            Traits = [ItemTrait.Glossy, ItemTrait.Animated],
            Id = 4,
        },
        new()
        {
            Name = "mail_sack",
            Traits = [ItemTrait.Animated],
            Id = 5,
            Behind = "dome",
        },
        new()
        {
            Name = "kelp",
            Traits = [ItemTrait.Glossy, ItemTrait.Animated],
            Id = 6,
        },
        new()
        {
            Name = "seabed",
            Kind = ItemKind.Plane,
            Id = 7,
        },
        new()
        {
            Name = "dusk_sun",
            Kind = ItemKind.Light,
            Traits = [ItemTrait.Emits],
            Note = "directional",
        },
        new()
        {
            Name = "cam_main",
            Kind = ItemKind.Camera,
            Traits = [ItemTrait.Animated],
            Note = "vertical field of view 25°",
        },
        new() { Name = "cam_witness", Kind = ItemKind.Camera },
        new()
        {
            Name = "dome_centre",
            Kind = ItemKind.Locator,
            Traits = [ItemTrait.Animated],
            Note = "for flares",
        },
        new()
        {
            Name = "hull_paint",
            Kind = ItemKind.Material,
            Traits = [ItemTrait.Glossy],
            Colour = "#ff0000",
        },
        new()
        {
            Name = "glass",
            Kind = ItemKind.Material,
            Traits = [ItemTrait.Transparent, ItemTrait.Glossy],
            Colour = "#00ff00",
        },
        new()
        {
            Name = "lamp_glow",
            Kind = ItemKind.Material,
            Traits = [ItemTrait.Emits],
            Colour = "#0000ff",
        },
        new()
        {
            Name = "kelp_leaf",
            Kind = ItemKind.Material,
            Colour = "#ffff00",
        },
        new()
        {
            Name = "sand",
            Kind = ItemKind.Material,
            Colour = "#00ffff",
        },
    ];

    private static readonly string[] SubItems = ["hull", "dome", "lamps", "fins", "mail_sack"];

    /// <summary>The plan of a shot.</summary>
    public static Plan Create(string shot, FrameSet frames)
    {
        Plan plan = StandInPlan.Create(shot, frames);
        plan = plan with
        {
            Show = plan.Show with
            {
                Machines = 4,
                Settings = new()
                {
                    ["samples"] = "64",
                    ["seed_changes"] = "yes",
                    ["motion_blur"] = "no",
                    ["defocus"] = "no",
                    ["filter_data"] = "none",
                },
            },
        };
        PlanEdit[] edits =
        [
            new PutItems(Roster),
            new SetRoles(["kelp"], ["sub"], ItemRole.Holdout),
            new SetRoles(["seabed"], ["sub", "kelp"], ItemRole.Hidden),
            new SetRoles([.. SubItems], ["kelp"], ItemRole.Holdout),
            new SetRoles([.. SubItems, "kelp"], ["seabed"], ItemRole.ShadowOnly),
            new SetLayer("sub") { Group = "foreground" },
            new SetLayer("kelp") { Group = "foreground" },
            new SetLayer("seabed") { Group = "background" },
            new SetSettings(["sub"], "bounces.refraction", "4"),
        ];
        plan = Masked(edits.Aggregate(plan, (p, edit) => edit.Apply(p)));
        return Apart(plan);
    }

    /// <summary>Says which item each channel of matte.sub masks.</summary>
    private static Plan Masked(Plan plan) =>
        plan with
        {
            Layers =
            [
                .. plan.Layers.Select(l =>
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
                                            p.Pass == "matte.sub"
                                                ? p with
                                                {
                                                    Masks = new()
                                                    {
                                                        ["matte.sub.R"] = "hull",
                                                        ["matte.sub.G"] = "dome",
                                                        ["matte.sub.B"] = "lamps",
                                                    },
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

    /// <summary>The submarine's occlusion in a layer of its own.</summary>
    private static Plan Apart(Plan plan)
    {
        string[] others = [.. plan.FindLayer("sub")!.AllPasses.Where(p => p.Pass != "ao").Select(p => p.Pass)];
        PlanEdit[] edits =
        [
            new AddLayer("sub_occlusion", BasedOn: "sub"),
            new MoveLayer("sub_occlusion", -2),
            new WriteCells([.. others.Select(p => new CellText("sub_occlusion", p, ""))]),
            new WriteCells([new CellText("sub", "ao", "")]),
            new WriteCells([new CellText("sub_occlusion", "ao", "half own")]),
            new SetRoles(["dome"], ["sub_occlusion"], ItemRole.Hidden),
            new SetSettings(["sub_occlusion"], "bounces.refraction", "0"),
            new SetChanges(
                "sub_occlusion",
                [
                    new LayerChange(LayerChange.GlobalIlluminationOff, "", [], "occlusion alone"),
                    new LayerChange("material override", "matte white", ["hull", "fins"], "no gloss in occlusion"),
                ]
            ),
        ];
        Plan apart = edits.Aggregate(plan, (p, edit) => edit.Apply(p));
        return apart with
        {
            Layers =
            [
                .. apart.Layers.Select(l =>
                    l.Name != "sub_occlusion"
                        ? l
                        : l with
                        {
                            Alpha = AlphaMode.None,
                            Outputs =
                            [
                                .. l.Outputs.Select(o =>
                                    o with
                                    {
                                        Passes =
                                        [
                                            .. o.Passes.Select(p =>
                                                p with
                                                {
                                                    Channels = new() { ["ao.Y"] = Foundation.Passes.ChannelType.Half },
                                                }
                                            ),
                                        ],
                                    }
                                ),
                            ],
                        }
                ),
            ],
        };
    }
}
