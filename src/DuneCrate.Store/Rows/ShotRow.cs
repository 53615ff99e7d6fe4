namespace DuneCrate.Store.Rows;

/// <summary>A shot with its plan and where its files are.</summary>
public sealed class ShotRow
{
    /// <summary>Key.</summary>
    public int Id { get; set; }

    /// <summary>The show.</summary>
    public int ShowId { get; set; }

    /// <summary>The show.</summary>
    public ShowRow Show { get; set; } = null!;

    /// <summary>Short code, unique in the show.</summary>
    public required string Code { get; set; }

    /// <summary>The plan as a document.</summary>
    public required string PlanJson { get; set; }

    /// <summary>Counts changes of the plan; a change made on an older one is refused.</summary>
    public int Revision { get; set; }

    /// <summary>Name of the storage root with the rendered files, or null before anything was taken in.</summary>
    public string? Root { get; set; }

    /// <summary>Folder below the root, with <c>/</c>.</summary>
    public string Folder { get; set; } = "";

    /// <summary>What happened last, in words.</summary>
    public string LastEvent { get; set; } = "";

    /// <summary>When, UTC.</summary>
    public DateTime LastEventAt { get; set; }

    /// <summary>When it was put into the archive, UTC; null for a shot that is worked on.</summary>
    public DateTime? ArchivedAt { get; set; }
}
