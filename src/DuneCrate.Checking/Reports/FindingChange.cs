namespace DuneCrate.Checking.Reports;

/// <summary>How a finding stands between two checks.</summary>
public enum FindingChange
{
    /// <summary>It was not there before, or not in these frames.</summary>
    New,

    /// <summary>It is still there.</summary>
    Still,

    /// <summary>It is gone.</summary>
    Fixed,
}
