using System.Collections.Immutable;

namespace DuneCrate.Foundation.Rules;

/// <summary>
/// One check, of a plan before the render or of files after it: a stable id, a default severity and one clear question. A rule opens no
/// file,
/// and everything about it stands in its class. Immutable; safe to share between threads.
/// </summary>
public abstract class Rule
{
    /// <summary>Stable id: family and name.</summary>
    public abstract string Id { get; }

    /// <summary>What it found, in a few words for lists.</summary>
    public abstract string Title { get; }

    /// <summary>Severity unless the show or the case says otherwise.</summary>
    public abstract Severity Severity { get; }

    /// <summary>The question, as in "frames of the plan with no file".</summary>
    public abstract string Question { get; }

    /// <summary>Numbers that a show can change.</summary>
    public virtual ImmutableArray<RuleThreshold> Thresholds => [];

    /// <summary>What a show changes about the rule, or null.</summary>
    /// <param name="rules">What the show changes about rules, by id, or null.</param>
    public RuleSetting? SettingIn(IReadOnlyDictionary<string, RuleSetting>? rules) => rules?.GetValueOrDefault(Id);

    /// <summary>The number that holds: what a show sets, or the one that ships.</summary>
    /// <param name="threshold">One of <see cref="Thresholds"/>.</param>
    /// <param name="rules">What the show changes about rules, by id, or null.</param>
    public double ValueOf(RuleThreshold threshold, IReadOnlyDictionary<string, RuleSetting>? rules) =>
        SettingIn(rules)?.Thresholds?.TryGetValue(threshold.Name, out double set) == true ? set : threshold.Default;
}
