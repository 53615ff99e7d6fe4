using System.Collections.Immutable;

namespace DuneCrate.Planning.Model;

/// <summary>A plan as the database gives it back.</summary>
/// <param name="Whole">Everything that was kept; null when the text is no plan's at all.</param>
/// <param name="Usable">What pages and work can use of it.</param>
/// <param name="Problems">What is wrong with it; empty for a usable plan.</param>
public sealed record KeptPlan(Plan? Whole, Plan Usable, ImmutableArray<PlanProblem> Problems);
