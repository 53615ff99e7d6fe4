using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Reports;
using DuneCrate.Checking.Rules;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Rules;
using DuneCrate.Shots.Views;
using DuneCrate.StandIns.Farm;
using DuneCrate.Store.Rows;

namespace DuneCrate.Web.Stations.Shared;

/// <summary>Which mark stands for what: shapes that differ without their colour. The partial <c>_Mark</c> draws them.</summary>
public static class Marks
{
    /// <summary>All is well.</summary>
    public const string Good = "good";

    /// <summary>Nothing is known yet.</summary>
    public const string Pending = "pending";

    /// <summary>A person must look.</summary>
    public const string Warning = "warning";

    /// <summary>It cannot be used as it is.</summary>
    public const string Blocker = "blocker";

    /// <summary>The mark of a weight.</summary>
    public static string For(Severity severity) => Words.Choice(severity);

    /// <summary>The mark of frames.</summary>
    public static string For(FrameState state) => Words.Choice(state);

    /// <summary>The mark of a finding: what became of it, what its frames are, or how much it weighs.</summary>
    public static string For(Finding finding) =>
        finding.Waived is not null ? Good
        : RuleBook.StateOf(finding) is var state and (FrameState.Missing or FrameState.Settling) ? For(state)
        : For(finding.Severity);

    /// <summary>The mark of a finding compared with an earlier check.</summary>
    public static string For(FindingChange since) =>
        since switch
        {
            FindingChange.Fixed => Good,
            FindingChange.New => Blocker,
            _ => Warning,
        };

    /// <summary>The mark of counts.</summary>
    public static string For(int blockers, int warnings) =>
        blockers > 0 ? Blocker
        : warnings > 0 ? Warning
        : Good;

    /// <summary>The mark of what has come of a layer.</summary>
    public static string For(ArrivalState state) =>
        state switch
        {
            ArrivalState.Complete => Good,
            ArrivalState.Stalled or ArrivalState.Partial => Warning,
            ArrivalState.Arriving => For(FrameState.Settling),
            _ => Pending,
        };

    /// <summary>The mark of a farm's job.</summary>
    public static string For(FarmState state) =>
        state switch
        {
            FarmState.Done => Good,
            FarmState.Failed => Blocker,
            FarmState.Cancelled => For(FrameState.Missing),
            FarmState.Rendering => For(FrameState.Settling),
            _ => Pending,
        };

    /// <summary>The mark of a crate.</summary>
    public static string For(CrateRow crate) =>
        crate.State switch
        {
            JobState.Done => crate.VerifyProblems.Length > 0 ? Blocker : Good,
            JobState.Failed or JobState.Stopped => Blocker,
            _ => For(FrameState.Settling),
        };

    /// <summary>The mark of a station of a shot in the yard.</summary>
    public static string For(Station station, bool hasBlockers) =>
        station.State switch
        {
            StationState.Done => Good,
            StationState.Begun => hasBlockers ? Blocker : Warning,
            _ => Pending,
        };
}
