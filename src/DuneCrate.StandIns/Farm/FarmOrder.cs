using System.Collections.Immutable;
using DuneCrate.Checking.Reports;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Storage;
using DuneCrate.Planning.Model;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.StandIns.Farm;

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
