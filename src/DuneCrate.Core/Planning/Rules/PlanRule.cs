using System.Collections.Immutable;
using DuneCrate.Core.Planning.Edits;
using DuneCrate.Core.Rules;

namespace DuneCrate.Core.Planning.Rules;

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
}
