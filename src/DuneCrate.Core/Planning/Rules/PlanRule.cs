using System.Collections.Immutable;
using DuneCrate.Core.Checks;
using DuneCrate.Core.Planning.Edits;
using DuneCrate.Core.Planning.Estimates;

namespace DuneCrate.Core.Planning.Rules;

/// <summary>What plan rules are asked about.</summary>
/// <param name="Plan">The plan.</param>
/// <param name="Estimate">What it will come to.</param>
/// <param name="FreeBytes">Room left where the renderer writes; null when it is not known.</param>
public sealed record PlanContext(Plan Plan, PlanEstimate Estimate, long? FreeBytes)
{
    /// <summary>A context without knowledge of the disk.</summary>
    public static PlanContext Of(Plan plan, long? freeBytes = null) => new(plan, PlanEstimate.Of(plan), freeBytes);

    /// <summary>Layers that are rendered.</summary>
    public IEnumerable<LayerPlan> Layers => Plan.Layers.Where(l => !l.Off);

    /// <summary>A show's threshold of a rule, or the rule's own.</summary>
    public double Threshold(IRule rule, RuleThreshold threshold) => threshold.Of(Plan.Show.Rules, rule.Id);
}

/// <summary>One mistake in a plan, before anything is rendered.</summary>
public sealed record PlanFinding
{
    /// <summary>The rule's id.</summary>
    public required string Rule { get; init; }

    /// <summary>Its weight.</summary>
    public required Severity Severity { get; init; }

    /// <summary>The layer, or null for the shot.</summary>
    public string? Layer { get; init; }

    /// <summary>The pass, or null for the whole layer.</summary>
    public string? Pass { get; init; }

    /// <summary>The field it stands beside, such as template or frames; null for the cell itself.</summary>
    public string? Field { get; init; }

    /// <summary>A sentence a wrangler understands.</summary>
    public required string Message { get; init; }

    /// <summary>What to do, in words.</summary>
    public required string Remedy { get; init; }

    /// <summary>What does it at once, or null.</summary>
    public PlanEdit? Fix { get; init; }
}

/// <summary>
/// One check of a plan: a stable id, a default severity and one clear question. To add one, write a class in the file of its family and name
/// it in <see cref="PlanRuleBook"/>.
/// </summary>
public abstract class PlanRule : IRule
{
    /// <inheritdoc/>
    public abstract string Id { get; }

    /// <inheritdoc/>
    public abstract string Title { get; }

    /// <inheritdoc/>
    public abstract Severity Severity { get; }

    /// <inheritdoc/>
    public abstract string Question { get; }

    /// <inheritdoc/>
    public virtual ImmutableArray<RuleThreshold> Thresholds => [];

    /// <summary>Everything it finds.</summary>
    public abstract IEnumerable<PlanFinding> Check(PlanContext context);

    /// <summary>A finding.</summary>
    protected PlanFinding Found(string? layer, string? pass, string? field, string message, string remedy, PlanEdit? fix = null) =>
        new()
        {
            Rule = Id,
            Severity = Severity,
            Layer = layer,
            Pass = pass,
            Field = field,
            Message = message,
            Remedy = remedy,
            Fix = fix,
        };

    /// <summary>Names in a sentence: "a, b and 3 more".</summary>
    protected static string Names(IEnumerable<string> names)
    {
        string[] all = [.. names];
        return all.Length <= 3
            ? string.Join(all.Length == 2 ? " and " : ", ", all)
            : $"{string.Join(", ", all.Take(2))} and {all.Length - 2} more";
    }
}
