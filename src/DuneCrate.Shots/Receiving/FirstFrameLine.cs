using System.Collections.Immutable;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Shots.Receiving;

/// <summary>What is wrong with the first frames, once for all layers in which it is.</summary>
/// <param name="Severity">Its weight.</param>
/// <param name="Layers">The layers.</param>
/// <param name="Message">The finding of the first of them.</param>
public sealed record FirstFrameLine(Severity Severity, ImmutableArray<string> Layers, string Message)
{
    /// <summary>The lines, worst first: findings of one rule about the same thing are one line.</summary>
    public static ImmutableArray<FirstFrameLine> From(ArrivalView arrival) =>
        [
            .. arrival
                .First.SelectMany(layer => layer.Value.Findings.Select(finding => (Layer: layer.Key, Finding: finding)))
                .Where(f => f.Finding.Severity != Severity.Note)
                .GroupBy(f => (f.Finding.Rule, f.Finding.Expected, f.Finding.Found, f.Finding.Severity))
                .OrderBy(g => g.Key.Severity)
                .ThenBy(g => g.Key.Rule, StringComparer.Ordinal)
                .Select(g => new FirstFrameLine(g.Key.Severity, [.. g.Select(f => f.Layer).Distinct().Order()], g.First().Finding.Message)),
        ];
}
