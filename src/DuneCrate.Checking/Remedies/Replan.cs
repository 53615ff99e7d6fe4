using DuneCrate.Planning.Model;

namespace DuneCrate.Checking.Remedies;

/// <summary>The other way to settle a finding: what came is what is wanted, and the plan is changed to it.</summary>
/// <param name="After">The plan that agrees with what came.</param>
/// <param name="What">What is changed, for the list of versions: "sub plans frames 1001-1050".</param>
public sealed record Replan(Plan After, string What);
