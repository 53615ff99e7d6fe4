using System.Collections.Immutable;

namespace DuneCrate.Planning.Rules;

/// <summary>Every plan rule, in the order of the rules page.</summary>
public static class PlanRuleBook
{
    /// <summary>The rules.</summary>
    public static readonly ImmutableArray<PlanRule> All =
    [
        new PlanRange(),
        new PlanPadding(),
        new PlanCollision(),
        new PlanName(),
        new PlanFormat(),
        new PlanDepth(),
        new PlanLossy(),
        new PlanAlpha(),
        new PlanFilter(),
        new PlanRebuild(),
        new PlanIds(),
        new PlanDoubleBlur(),
        new PlanOcclusion(),
        new PlanHiddenEmission(),
        new PlanScene(),
        new PlanIdle(),
        new PlanCamera(),
        new PlanSpace(),
        new PlanHoldout(),
        new PlanReceiver(),
    ];

    /// <summary>The rule of an id, or null.</summary>
    public static PlanRule? Find(string id) => All.FirstOrDefault(r => r.Id == id);

    /// <summary>Everything that is wrong with a plan, worst first; a show's severities and switched-off rules are heeded.</summary>
    public static ImmutableArray<PlanFinding> Check(PlanContext context) =>
        [
            .. All.Select(rule => (Rule: rule, Setting: rule.SettingIn(context.Plan.Show.Rules)))
                .Where(r => r.Setting?.Off != true)
                .SelectMany(r =>
                    r.Rule.Check(context).Select(f => r.Setting?.Severity is { } severity ? f with { Severity = severity } : f)
                )
                .OrderBy(f => f.Severity),
        ];
}
