namespace DuneCrate.Engine;

/// <summary>Which queue a piece of work waits in.</summary>
public enum WorkKind
{
    /// <summary>The first frame of a layer: before everything else.</summary>
    First,

    /// <summary>One file or one sum.</summary>
    Single,

    /// <summary>Several files.</summary>
    Bulk,
}
