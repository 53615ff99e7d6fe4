using System.Collections.Immutable;
using DuneCrate.Core.Rules;
using DuneCrate.Web.Stations.Shared;

namespace DuneCrate.Web.Stations.Yard;

/// <summary>A shot as a row of the yard.</summary>
/// <param name="ShowId">Key of the show.</param>
/// <param name="Code">Its code.</param>
/// <param name="Address">Beginning of its addresses: <c>/KELP/KP010</c>.</param>
/// <param name="Query">The rest of its addresses: what is looked at.</param>
/// <param name="Stations">Its stations.</param>
/// <param name="Blockers">Findings that keep a crate from being sealed; null before the first check.</param>
/// <param name="Bytes">Bytes of its files; null before the first check.</param>
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
            view.IsChecking,
            view.Row.LastEvent,
            view.Row.LastEventAt
        );

    /// <summary>Address of a station.</summary>
    public string Href(string station) => $"{Address}/{station}{Query}";
}
