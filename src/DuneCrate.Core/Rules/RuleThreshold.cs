using System.Collections.Immutable;

namespace DuneCrate.Core.Rules;

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
