using System.Collections.Immutable;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging.Pictures.Notes;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.StandIns.Demo;

/// <summary>What people noted on the pictures of the demo's shot with trouble, and its earlier version to compare with.</summary>
public static class DemoNotes
{
    /// <summary>The shot.</summary>
    public const string Shot = "KP020";

    /// <summary>The layer of which there is an earlier version.</summary>
    public const string EarlierLayer = "sub";

    /// <summary>The folder with the earlier version, beside the shot's.</summary>
    public const string EarlierFolder = "KP020_v001";

    /// <summary>The frames of the earlier version.</summary>
    public static readonly FrameSet EarlierFrames = FrameSet.Range(1001, 1008);

    /// <summary>What was wrong with the earlier version.</summary>
    public static readonly ImmutableArray<Fault> EarlierFaults = [Fault.Read("copy:sub:1004-1005")];

    private static readonly DateTime Morning = new(2026, 11, 25, 9, 12, 0, DateTimeKind.Utc);

    /// <summary>The notes.</summary>
    public static readonly ImmutableArray<PictureNote> All =
    [
        new(
            "sub",
            PassKeys.Beauty,
            1003,
            NoteShape.Box,
            150,
            70,
            330,
            190,
            "The header names the witness camera, yet the boat sits where it does around it. Which camera was it?",
            "Wrangler",
            Morning
        )
        {
            Answers = [new("The shot's own; the name was left from a test. It is in the queue again.", "Lighter", Morning.AddMinutes(34))],
        },
        new(
            "sub",
            PassKeys.Beauty,
            1006,
            NoteShape.Arrow,
            90,
            60,
            170,
            110,
            "Samples that are no numbers around the lamp, in this frame alone.",
            "Wrangler",
            Morning.AddMinutes(4)
        ),
        new(
            "seabed",
            PassKeys.Beauty,
            1010,
            NoteShape.Point,
            240,
            200,
            240,
            200,
            "Sand is a little warm here; fine for me if the grade takes it.",
            "Compositor",
            Morning.AddMinutes(51)
        )
        {
            SettledBy = "Lighter",
            SettledAt = Morning.AddHours(2),
        },
    ];
}
