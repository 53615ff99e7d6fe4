using System.Collections.Immutable;

namespace DuneCrate.Core.Checks;

/// <summary>What rules of the plan and rules of the check share: what the rules page and a show's settings need of them.</summary>
public interface IRule
{
    /// <summary>Stable id: family and name.</summary>
    string Id { get; }

    /// <summary>What it found, in a few words for lists.</summary>
    string Title { get; }

    /// <summary>Severity unless the show or the case says otherwise.</summary>
    Severity Severity { get; }

    /// <summary>The question, as in "frames of the plan with no file".</summary>
    string Question { get; }

    /// <summary>Numbers that a show can change.</summary>
    ImmutableArray<RuleThreshold> Thresholds { get; }
}

/// <summary>A number that decides when a rule speaks.</summary>
/// <param name="Name">Name in documents.</param>
/// <param name="Default">The value that ships.</param>
/// <param name="Words">What it is, with the unit.</param>
public sealed record RuleThreshold(string Name, double Default, string Words)
{
    /// <summary>The number that holds: what a show sets for the rule, or the one that ships.</summary>
    /// <param name="rules">What the show changes about rules, or null.</param>
    /// <param name="rule">Id of the rule.</param>
    public double Of(IReadOnlyDictionary<string, RuleSetting>? rules, string rule) =>
        rules?.GetValueOrDefault(rule)?.Thresholds?.TryGetValue(Name, out double set) == true ? set : Default;
}
