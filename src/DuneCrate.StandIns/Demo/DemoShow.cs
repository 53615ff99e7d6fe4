using System.Collections.Immutable;
using DuneCrate.Core.Frames;
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
                Of("missing:sub:1009-1010"),
                Of("truncated:sub:1022"),
                Of("unlit:sub:1016-1018"),
                Of("nonfinite:sub:1006"),
                Of("wrong-camera:sub:1003"),
                Of("repadded:sub:1013"),
                Of("half-depth:kelp:1015"),
                Of("copy:kelp:1012"),
                Of("renamed:kelp:1020"),
                Of("dropped-channel:kelp:1005"),
                Of("wrong-rate:kelp:1001-1004"),
                Of("8-bit:seabed:1019"),
                Of("black:seabed:1002"),
                Of("wrong-size:seabed:1023"),
                Of("missing:seabed.depth:1021-1024"),
                Of("empty:seabed.ao:1024"),
            ],
            "trouble of many kinds"
        ),
        new("KP030", FrameSet.Range(1001, 1012), [], "half rendered"),
    ];

    private static Fault Of(string text) =>
        Fault.TryParse(text, out Fault? fault, out string? problem) ? fault : throw new FormatException(problem);
}
