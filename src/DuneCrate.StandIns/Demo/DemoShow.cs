using System.Collections.Immutable;
using DuneCrate.Foundation.Frames;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.StandIns.Demo;

/// <summary>The demo show, <em>The Kelp Post</em>: one clean shot, one with all kinds of trouble, one half rendered.</summary>
public static class DemoShow
{
    /// <summary>The frames of every shot.</summary>
    public static readonly FrameSet Frames = FrameSet.Range(1001, 1024);

    /// <summary>The shots.</summary>
    public static readonly ImmutableArray<DemoShot> Shots =
    [
        new("KP010", Frames, [], "clean"),
        new(
            "KP020",
            Frames,
            [
                Fault.Read("missing:sub:1009-1010"),
                Fault.Read("truncated:sub:1022"),
                Fault.Read("unlit:sub:1016-1018"),
                Fault.Read("nonfinite:sub:1006"),
                Fault.Read("wrong-camera:sub:1003"),
                Fault.Read("repadded:sub:1013"),
                Fault.Read("half-depth:kelp:1015"),
                Fault.Read("copy:kelp:1012"),
                Fault.Read("renamed:kelp:1020"),
                Fault.Read("dropped-channel:kelp:1005"),
                Fault.Read("wrong-rate:kelp:1001-1004"),
                Fault.Read("8-bit:seabed:1019"),
                Fault.Read("black:seabed:1002"),
                Fault.Read("wrong-size:seabed:1023"),
                Fault.Read("missing:seabed.depth:1021-1024"),
                Fault.Read("empty:seabed.ao:1024"),
            ],
            "trouble of many kinds"
        ),
        new("KP030", FrameSet.Range(1001, 1012), [], "half rendered"),
    ];
}
