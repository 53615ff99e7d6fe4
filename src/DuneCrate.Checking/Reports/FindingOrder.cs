namespace DuneCrate.Checking.Reports;

/// <summary>In which order findings are listed. Within one order they stay as the report has them.</summary>
public enum FindingOrder
{
    /// <summary>Blockers first.</summary>
    Severity,

    /// <summary>By first frame; those about no frame come first.</summary>
    Frame,

    /// <summary>By layer, then pass.</summary>
    Layer,

    /// <summary>By rule.</summary>
    Rule,

    /// <summary>Most frames first.</summary>
    Count,
}
