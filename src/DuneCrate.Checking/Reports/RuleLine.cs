using System.Collections.Immutable;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Reports;

/// <summary>What one rule found across a show.</summary>
/// <param name="Rule">The rule's id.</param>
/// <param name="Severity">The severity of these findings.</param>
/// <param name="Findings">How many.</param>
/// <param name="Frames">Frames in them.</param>
/// <param name="Shots">In which shots.</param>
public sealed record RuleLine(string Rule, Severity Severity, int Findings, long Frames, ImmutableArray<string> Shots);
