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
                Parse("missing:sub:1009-1010"),
                Parse("truncated:sub:1022"),
                Parse("unlit:sub:1016-1018"),
                Parse("nonfinite:sub:1006"),
                Parse("wrong-camera:sub:1003"),
                Parse("repadded:sub:1013"),
                Parse("half-depth:kelp:1015"),
                Parse("copy:kelp:1012"),
                Parse("renamed:kelp:1020"),
                Parse("dropped-channel:kelp:1005"),
                Parse("wrong-rate:kelp:1001-1004"),
                Parse("8-bit:seabed:1019"),
                Parse("black:seabed:1002"),
                Parse("wrong-size:seabed:1023"),
                Parse("missing:seabed.depth:1021-1024"),
                Parse("empty:seabed.ao:1024"),
            ],
            "trouble of many kinds"
        ),
        new("KP030", FrameSet.Range(1001, 1012), [], "half rendered"),
    ];

    private static Fault Parse(string text) =>
        Fault.TryParse(text, out Fault? fault, out string? problem) ? fault : throw new FormatException(problem);
}
