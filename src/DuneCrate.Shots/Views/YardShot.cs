using System.Collections.Immutable;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Model;

namespace DuneCrate.Shots.Views;

/// <summary>A shot as a row of the yard.</summary>
/// <param name="ShowId">Key of the show.</param>
/// <param name="Code">Its code.</param>
/// <param name="Address">Beginning of its addresses: <c>/KELP/KP010</c>.</param>
/// <param name="Query">The rest of its addresses: what is looked at.</param>
/// <param name="Stations">Its stations.</param>
/// <param name="Blockers">Findings that keep a crate from being sealed; null before the first check.</param>
/// <param name="Bytes">Bytes of its files; null before the first check.</param>
/// <param name="Picture">Address of a small picture of its lead pass at the middle frame; null when nothing is there.</param>
/// <param name="IsChecking">Whether a check waits or runs.</param>
/// <param name="LastEvent">What happened last.</param>
/// <param name="LastEventAt">When, UTC.</param>
public sealed record YardShot(
    int ShowId,
    string Code,
    string Address,
    string Query,
    ImmutableArray<Station> Stations,
    int? Blockers,
    long? Bytes,
    string? Picture,
    bool IsChecking,
    string LastEvent,
    DateTime LastEventAt
)
{
    /// <summary>The row of a shot.</summary>
    public static YardShot From(ShotView view) =>
        new(
            view.Row.ShowId,
            view.Row.Code,
            $"/{view.Row.Show.Code}/{view.Row.Code}",
            view.Selected.Query,
            view.Stations,
            view.Report is null ? null : view.Count(Severity.Blocker),
            view.Report?.Summary.Bytes,
            PictureOf(view),
            view.IsChecking,
            view.Row.LastEvent,
            view.Row.LastEventAt
        );

    /// <summary>Width of the small pictures, in pixels.</summary>
    private const int PictureWidth = 96;

    /// <summary>The lead pass of the first layer that has frames, at the frame nearest to the middle of them.</summary>
    private static string? PictureOf(ShotView view)
    {
        foreach (LayerPlan layer in view.Seen.Layers.Where(l => !l.Off && l.LeadPass is not null))
        {
            FrameSet there =
                view.Lanes.FirstOrDefault(l => l.Layer == layer.Name && l.Passes.Contains(layer.LeadPass!))?.There ?? FrameSet.Empty;
            if (view.Report is not null && !there.IsEmpty)
            {
                int frame = there.Nearest(there.First + (there.Last - there.First) / 2);
                return $"/{view.Row.Show.Code}/{view.Row.Code}/picture.png?layer={Uri.EscapeDataString(layer.Name)}"
                    + $"&pass={Uri.EscapeDataString(layer.LeadPass!)}&frame={frame}&width={PictureWidth}";
            }
        }

        return null;
    }

    /// <summary>Address of a station.</summary>
    public string Href(string station) => $"{Address}/{station}{Query}";
}
