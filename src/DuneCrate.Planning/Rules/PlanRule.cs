using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Edits;

namespace DuneCrate.Planning.Rules;

/// <summary>
/// One check of a plan before the render. To add one, write a class beside this one and name it in <see cref="PlanRuleBook"/>.
/// </summary>
public abstract class PlanRule : Rule
{
    /// <summary>Whether it is about ids and masks, and shown beside them.</summary>
    public virtual bool IsAboutIds => false;

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
