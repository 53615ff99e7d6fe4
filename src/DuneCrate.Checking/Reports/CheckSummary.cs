using DuneCrate.Checking.Findings;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Reports;

/// <summary>Counts of a report. Waived findings do not count.</summary>
public sealed record CheckSummary(int Blockers, int Warnings, int Notes, int Files, long Bytes, double Seconds)
{
    /// <summary>The same run with other findings.</summary>
    public CheckSummary Count(IReadOnlyCollection<Finding> findings) =>
        this with
        {
            Blockers = findings.Count(f => f.Severity == Severity.Blocker && f.Waived is null),
            Warnings = findings.Count(f => f.Severity == Severity.Warning && f.Waived is null),
            Notes = findings.Count(f => f.Severity == Severity.Note && f.Waived is null),
        };
}
