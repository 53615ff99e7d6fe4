using System.Collections.Immutable;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;

namespace DuneCrate.Shots.Receiving;

/// <summary>What has come of a shot, at a moment.</summary>
/// <param name="Layers">By layer.</param>
/// <param name="First">Findings about the first whole frame of a layer; a layer that is not in it has none yet.</param>
/// <param name="Taken">When, UTC.</param>
/// <param name="Problem">Why the folder could not be looked at, or null.</param>
public sealed record ArrivalView(
    ImmutableArray<LayerArrival> Layers,
    ImmutableDictionary<string, (int Frame, ImmutableArray<Finding> Findings)> First,
    DateTime Taken,
    string? Problem = null
);
