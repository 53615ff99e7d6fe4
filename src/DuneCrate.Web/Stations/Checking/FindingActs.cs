using DuneCrate.Checking.Findings;
using DuneCrate.Shots.Views;

namespace DuneCrate.Web.Stations.Checking;

/// <summary>What can be done about a finding.</summary>
/// <param name="View">The shot.</param>
/// <param name="Finding">The finding.</param>
/// <param name="Pictures">Pictures that show what is meant.</param>
/// <param name="Replan">What the plan would say if what came is what is wanted; null when that cannot be.</param>
public sealed record FindingActs(ShotView View, Finding Finding, IReadOnlyList<Evidence> Pictures, string? Replan);
