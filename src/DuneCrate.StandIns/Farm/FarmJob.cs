using System.Collections.Immutable;
using DuneCrate.Core.Checks;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Planning;
using DuneCrate.Core.Storage;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.StandIns.Farm;

/// <summary>How a job stands.</summary>
public enum FarmState
{
    /// <summary>Waiting for the jobs before it.</summary>
    Waiting,

    /// <summary>Being rendered.</summary>
    Rendering,

    /// <summary>Held back by a person.</summary>
    Paused,

    /// <summary>Done.</summary>
    Done,

    /// <summary>Given up by a person. Frames that were written stay.</summary>
    Cancelled,

    /// <summary>The machine failed. Frames that were written stay.</summary>
    Failed,
}

/// <summary>What a job is asked to do.</summary>
/// <param name="Shot">Code of the shot.</param>
/// <param name="Plan">The plan that is rendered to.</param>
/// <param name="Folder">Where the files go.</param>
/// <param name="Portions">Layers and frames, in order.</param>
/// <param name="Faults">What is to go wrong.</param>
/// <param name="SecondsPerFrame">Least time that one layer frame takes.</param>
public sealed record FarmOrder(
    string Shot,
    Plan Plan,
    StoragePath Folder,
    ImmutableArray<RerunPortion> Portions,
    ImmutableArray<Fault> Faults,
    double SecondsPerFrame
)
{
    /// <summary>Most layer frames of an order.</summary>
    public const int MostFrames = 100_000;

    /// <summary>Most pixels of a picture: every pass of one is in memory while it is rendered.</summary>
    public const long MostPixels = 1920 * 1080;

    /// <summary>Why it cannot be taken, or null.</summary>
    public string? Problem =>
        Portions.Sum(p => p.Count) > MostFrames
            ? $"The stand-in farm takes at most {MostFrames:N0} layer frames at once; name fewer frames."
        : Plan.Shot.DataWindow is var window && window.Width * window.Height > MostPixels
            ? $"The stand-in farm renders pictures of up to 1920 × 1080; this shot has {window.Width} × {window.Height}."
        : null;

    /// <summary>The layer frames in the order of rendering: frame by frame, the layers of a frame one after the other.</summary>
    public ImmutableArray<(string Layer, int Frame)> Steps =>
        field.IsDefault
            ? field = [
                .. Portions
                    .SelectMany((p, i) => p.Frames.Select(f => (p.Layer, Frame: f, Place: i)))
                    .OrderBy(s => s.Frame)
                    .ThenBy(s => s.Place)
                    .Select(s => (s.Layer, s.Frame)),
            ]
            : field;

    /// <summary>Every layer frame of a plan, frame by frame as machines would take them.</summary>
    public static ImmutableArray<RerunPortion> Whole(Plan plan, FrameSet? frames = null) =>
        [
            .. plan
                .Layers.Where(l => !l.Off && l.Passes.Any())
                .Select(l => (l.Frames ?? plan.Shot.Frames) is var own && frames is null ? (l.Name, own) : (l.Name, own.Intersect(frames!)))
                .Where(l => !l.Item2.IsEmpty)
                .Select(l => new RerunPortion(l.Name, l.Item2, l.Item2.LongCount)),
        ];
}

/// <summary>One job of the queue. Immutable; the queue hands out the newest.</summary>
/// <param name="Id">Its number.</param>
/// <param name="Order">What it is asked to do.</param>
/// <param name="State">How it stands.</param>
/// <param name="Done">Layer frames done.</param>
/// <param name="Says">What it is doing, or why it ended.</param>
public sealed record FarmJob(int Id, FarmOrder Order, FarmState State, int Done, string Says)
{
    /// <summary>All layer frames.</summary>
    public int Of { get; } = (int)Order.Portions.Sum(p => p.Count);

    /// <summary>Whether it has ended one way or another.</summary>
    public bool IsOver => State is FarmState.Done or FarmState.Cancelled or FarmState.Failed;
}
