using System.Collections.Immutable;
using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Estimates;
using DuneCrate.Planning.Model;

namespace DuneCrate.Planning.Rules;

/// <summary>What plan rules are asked about.</summary>
/// <param name="Plan">The plan.</param>
/// <param name="Estimate">What it will come to.</param>
/// <param name="FreeBytes">Room left where the renderer writes; null when it is not known.</param>
public sealed record PlanContext(Plan Plan, PlanEstimate Estimate, long? FreeBytes)
{
    /// <summary>What receivers of crates ask for and the plan does not give.</summary>
    public ImmutableArray<ReceiverGap> Gaps { get; init; } = [];

    /// <summary>A context without knowledge of the disk.</summary>
    public static PlanContext Create(Plan plan, long? freeBytes = null) => new(plan, PlanEstimate.Compute(plan), freeBytes);

    /// <summary>Layers that are rendered.</summary>
    public IEnumerable<LayerPlan> Layers => Plan.Layers.Where(l => !l.Off);

    /// <summary>A show's threshold of a rule, or the rule's own.</summary>
    public double Threshold(Rule rule, RuleThreshold threshold) => rule.ValueOf(threshold, Plan.Show.Rules);
}
