namespace DuneCrate.Store.Rows;

/// <summary>What sort of step a revision is.</summary>
public enum RevisionKind
{
    /// <summary>A change.</summary>
    Edit,

    /// <summary>An earlier step taken back.</summary>
    Undo,

    /// <summary>A step that was taken back made again.</summary>
    Redo,
}
