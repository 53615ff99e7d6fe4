using System.Collections.Immutable;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Rules;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Reports;

/// <summary>Which findings are looked at; what is null or empty asks for nothing. Equal when every part is.</summary>
public sealed record FindingFilter
{
    /// <summary>Everything.</summary>
    public static readonly FindingFilter All = new();

    /// <summary>The layer.</summary>
    public string? Layer { get; init; }

    /// <summary>The pass; findings about whole files of an output that holds it count.</summary>
    public string? Pass { get; init; }

    /// <summary>Id of the rule.</summary>
    public string? Rule { get; init; }

    /// <summary>The severity.</summary>
    public Severity? Severity { get; init; }

    /// <summary>The state that the findings give their frames.</summary>
    public FrameState? State { get; init; }

    /// <summary>What has been done about it.</summary>
    public FindingStanding? Standing { get; init; }

    /// <summary>Words that must all stand in a finding, without regard to letter case; a number is looked for among the frames.</summary>
    public string? Words { get; init; }

    /// <summary>Whether a finding is looked at.</summary>
    /// <param name="finding">The finding.</param>
    /// <param name="passes">Passes of an output by its name, for findings that name none; null when they are not known.</param>
    public bool Takes(Finding finding, Func<string, IEnumerable<string>>? passes = null) =>
        (Layer is null || finding.Layer == Layer)
        && (Rule is null || finding.Rule == Rule)
        && (Severity is null || finding.Severity == Severity)
        && (Pass is null || finding.Pass == Pass || finding.Pass is null && passes?.Invoke(finding.Output).Contains(Pass) == true)
        && (State is null || RuleBook.StateOf(finding) == State)
        && (Standing is null || StandingOf(finding) == Standing)
        && Said(finding);

    /// <summary>What has been done about a finding.</summary>
    public static FindingStanding StandingOf(Finding finding) =>
        finding.Waived is not null ? FindingStanding.Waived
        : finding.Handed is not null ? FindingStanding.Handed
        : FindingStanding.Open;

    /// <summary>The findings that are looked at, in an order.</summary>
    public ImmutableArray<Finding> Apply(
        IEnumerable<Finding> findings,
        FindingOrder order,
        Func<string, IEnumerable<string>>? passes = null
    )
    {
        IEnumerable<Finding> taken = findings.Where(f => Takes(f, passes));
        return order switch
        {
            FindingOrder.Frame => [.. taken.OrderBy(f => f.Frames.IsEmpty ? int.MinValue : f.Frames.First)],
            FindingOrder.Layer => [.. taken.OrderBy(f => f.Layer, StringComparer.Ordinal).ThenBy(f => f.Pass, StringComparer.Ordinal)],
            FindingOrder.Rule => [.. taken.OrderBy(f => f.Rule, StringComparer.Ordinal)],
            FindingOrder.Count => [.. taken.OrderByDescending(f => f.Frames.LongCount)],
            _ => [.. taken.OrderBy(f => f.Severity)],
        };
    }

    private bool Said(Finding finding) =>
        (Words ?? "")
            .Split(' ', StringSplitOptions.RemoveEmptyEntries)
            .All(word =>
                int.TryParse(word, out int frame) && finding.Frames.Contains(frame)
                || new[]
                {
                    finding.Rule,
                    finding.Output,
                    finding.Layer,
                    finding.Pass,
                    finding.Message,
                    finding.Handed?.To,
                    RuleBook.Find(finding.Rule)?.Title,
                }.Any(text => text?.Contains(word, StringComparison.OrdinalIgnoreCase) == true)
            );
}
