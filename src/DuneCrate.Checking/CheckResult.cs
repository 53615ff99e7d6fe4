using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Reports;

namespace DuneCrate.Checking;

/// <summary>What a check found, with the plan and the facts it was found in: matched once, for reports, pages and crates alike.</summary>
/// <param name="Context">Plan and facts, matched.</param>
/// <param name="Report">The findings.</param>
public sealed record CheckResult(CheckContext Context, CheckReport Report)
{
    /// <summary>What was read.</summary>
    public IntakeResult Intake => Context.Intake;
}
