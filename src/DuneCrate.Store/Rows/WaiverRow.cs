namespace DuneCrate.Store.Rows;

/// <summary>A finding that somebody accepts.</summary>
public sealed class WaiverRow
{
    /// <summary>Key.</summary>
    public int Id { get; set; }

    /// <summary>The shot.</summary>
    public int ShotId { get; set; }

    /// <summary>The rule's id.</summary>
    public required string Rule { get; set; }

    /// <summary>The output.</summary>
    public required string Output { get; set; }

    /// <summary>The pass, or null.</summary>
    public string? Pass { get; set; }

    /// <summary>The frames that are accepted.</summary>
    public required string Frames { get; set; }

    /// <summary>Who.</summary>
    public required string By { get; set; }

    /// <summary>Why.</summary>
    public required string Reason { get; set; }

    /// <summary>When, UTC.</summary>
    public DateTime At { get; set; }
}
