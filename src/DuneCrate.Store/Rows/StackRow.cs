namespace DuneCrate.Store.Rows;

/// <summary>A test composite of a shot, with what it was before.</summary>
public sealed class StackRow
{
    /// <summary>Key.</summary>
    public int Id { get; set; }

    /// <summary>The shot.</summary>
    public int ShotId { get; set; }

    /// <summary>Name for people, once in a shot.</summary>
    public required string Name { get; set; }

    /// <summary>The document <c>dune-crate.stack/1</c>.</summary>
    public required string Document { get; set; }

    /// <summary>Raised by every change.</summary>
    public int Revision { get; set; }

    /// <summary>Earlier documents as a JSON array of texts, the newest last.</summary>
    public string PastJson { get; set; } = "[]";

    /// <summary>Documents that were undone, the next last.</summary>
    public string FutureJson { get; set; } = "[]";

    /// <summary>When it was changed last, UTC.</summary>
    public DateTime At { get; set; }
}
