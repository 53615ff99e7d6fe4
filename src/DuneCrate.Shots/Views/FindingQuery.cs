using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Reports;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Shots.Views;

/// <summary>
/// Which findings and lanes a page shows, and in which order: kept in the address, so that what is seen can be sent to a colleague.
/// </summary>
/// <param name="Filter">What is looked at.</param>
/// <param name="Order">In which order.</param>
public sealed record FindingQuery(FindingFilter Filter, FindingOrder Order)
{
    /// <summary>Everything, blockers first.</summary>
    public static readonly FindingQuery All = new(FindingFilter.All, FindingOrder.Severity);

    /// <summary>The names in an address, in the order of <see cref="Parts"/>.</summary>
    public static readonly string[] Names = ["of-layer", "of-pass", "rule", "severity", "state", "words", "order", "standing"];

    /// <summary>What an address asks for; what cannot be read asks for nothing.</summary>
    /// <param name="valueOf">The value that the address has for a name; null where it has none.</param>
    public static FindingQuery Parse(Func<string, string?> valueOf)
    {
        string? Text(string name) => valueOf(name)?.Trim() is { Length: > 0 } text ? text : null;
        T? Value<T>(string name)
            where T : struct, Enum => Enum.TryParse(Text(name), ignoreCase: true, out T value) && Enum.IsDefined(value) ? value : null;
        return new FindingQuery(
            new FindingFilter
            {
                Layer = Text(Names[0]),
                Pass = Text(Names[1]),
                Rule = Text(Names[2]),
                Severity = Value<Severity>(Names[3]),
                State = Value<FrameState>(Names[4]),
                Words = Text(Names[5]),
                Standing = Value<FindingStanding>(Names[7]),
            },
            Value<FindingOrder>(Names[6]) ?? FindingOrder.Severity
        );
    }

    /// <summary>The parts of an address, by name; what asks for nothing is left out.</summary>
    public IEnumerable<(string Name, string Value)> Parts =>
        Names
            .Zip([
                Filter.Layer,
                Filter.Pass,
                Filter.Rule,
                Filter.Severity?.ToString().ToLowerInvariant(),
                Filter.State?.ToString().ToLowerInvariant(),
                Filter.Words,
                Order == FindingOrder.Severity ? null : Words.Choice(Order),
                Filter.Standing is { } standing ? Words.Choice(standing) : null,
            ])
            .Where(p => p.Second is not null)
            .Select(p => (p.First, p.Second!));
}
