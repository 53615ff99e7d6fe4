namespace DuneCrate.Store.Rows;

/// <summary>A link by which somebody without an account gets one crate. The word in it is kept as a hash alone.</summary>
public sealed class GuestLinkRow
{
    /// <summary>Key.</summary>
    public int Id { get; set; }

    /// <summary>The crate.</summary>
    public int CrateId { get; set; }

    /// <summary>The crate.</summary>
    public CrateRow Crate { get; set; } = null!;

    /// <summary>SHA-256 of the word in the link, lower-case hexadecimal digits.</summary>
    public required string Hash { get; set; }

    /// <summary>For whom it was made.</summary>
    public required string For { get; set; }

    /// <summary>Who made it.</summary>
    public required string By { get; set; }

    /// <summary>When it was made, UTC.</summary>
    public DateTime At { get; set; }

    /// <summary>When it ends, UTC.</summary>
    public DateTime Ends { get; set; }

    /// <summary>When it was taken back, UTC, or null.</summary>
    public DateTime? TakenBackAt { get; set; }

    /// <summary>How often it was used.</summary>
    public int Uses { get; set; }

    /// <summary>When it was used last, UTC, or null.</summary>
    public DateTime? UsedAt { get; set; }
}
