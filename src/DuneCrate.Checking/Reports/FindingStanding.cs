namespace DuneCrate.Checking.Reports;

/// <summary>What has been done about a finding.</summary>
public enum FindingStanding
{
    /// <summary>Nobody has it, and nobody accepted it.</summary>
    Open,

    /// <summary>Somebody has it in hand.</summary>
    Handed,

    /// <summary>Somebody accepted it.</summary>
    Waived,
}
