using DuneCrate.Planning.Scene;
using DuneCrate.StandIns.Demo;

namespace DuneCrate.Testing;

/// <summary>A plan of the demo, and an edit of every sort that can be made to it.</summary>
public static class EditSamples
{
    public static readonly Plan Demo = DemoPlan.Create("KP010", FrameSet.Parse("1001-1024"));

    /// <summary>An edit of every sort.</summary>
    public static readonly PlanEdit[] OneOfEach =
    [
        new WriteCells([new("sub", "depth", "half")]),
        new AddLayer("x", BasedOn: "sub"),
        new DuplicateLayer("sub", "y"),
        new RenameLayer("kelp", "weed"),
        new RemoveLayer("seabed"),
        new MoveLayer("sub", 1),
        new SetLayer("sub") { Group = "g" },
        new SetChanges("sub", [new LayerChange("light off", "", ["lamps"], "night")]),
        new SetSettings(["sub"], "samples", "1"),
        new SetShot { Camera = "cam_witness" },
        new SetOutputs([], null) { Padding = "5" },
        new ArrangeOutputs(["sub"], OutputArrangement.PerPass),
        new PutItems([new SceneItem { Name = "anchor" }]),
        new RenameItem("hull", "shell"),
        new RemoveItems(["fins"]),
        new SetRoles(["hull"], ["kelp"], ItemRole.Hidden),
        new AssignIds(),
        new AssignColours(),
        new PackMattes("sub"),
        new SetAskedIds("sub", "object_id", "1-3"),
        new SetTestFrame(1001),
        new ReplacePlan(Demo, "again"),
        new SeveralEdits([new AssignIds(), new SetShot { Rate = "25" }], "two"),
        new WriteRoles([new("hull", "sub", "hidden")]),
        new WriteSettings([new("sub", "samples", "2")]),
        new WriteItems([new("hull", "id", "12")]),
    ];
}
