namespace DuneCrate.Checking.Matching;

/// <summary>How a sequence misses the output that it is nearest to.</summary>
public enum StrayKind
{
    /// <summary>It is near none.</summary>
    Unplanned,

    /// <summary>A slip in the name.</summary>
    Misnamed,

    /// <summary>The number stands after the extension.</summary>
    Order,

    /// <summary>Only the letter case differs.</summary>
    Case,

    /// <summary>Another version.</summary>
    Version,

    /// <summary>Another extension.</summary>
    Format,
}
