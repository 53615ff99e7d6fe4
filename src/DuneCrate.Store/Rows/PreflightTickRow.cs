namespace DuneCrate.Store.Rows;

/// <summary>Something that a person confirmed before a render.</summary>
public sealed class PreflightTickRow
{
    /// <summary>Key.</summary>
    public int Id { get; set; }

    /// <summary>The shot.</summary>
    public int ShotId { get; set; }

    /// <summary>The line of the show's list.</summary>
    public required string Item { get; set; }

    /// <summary>Who confirmed it.</summary>
    public required string By { get; set; }

    /// <summary>When, UTC.</summary>
    public DateTime At { get; set; }
}
