namespace DuneCrate.Store.Rows;

/// <summary>A token by which a script acts in one show. It is kept as a hash alone.</summary>
public sealed class TokenRow
{
    /// <summary>Key.</summary>
    public int Id { get; set; }

    /// <summary>The show.</summary>
    public int ShowId { get; set; }

    /// <summary>The show.</summary>
    public ShowRow Show { get; set; } = null!;

    /// <summary>What it is for, such as the name of a farm.</summary>
    public required string Name { get; set; }

    /// <summary>SHA-256 of the token, lower-case hexadecimal digits.</summary>
    public required string Hash { get; set; }

    /// <summary>Who made it.</summary>
    public required string By { get; set; }

    /// <summary>When it was made, UTC.</summary>
    public DateTime At { get; set; }

    /// <summary>When it was used last, UTC, or null.</summary>
    public DateTime? UsedAt { get; set; }

    /// <summary>When it was taken back, UTC, or null.</summary>
    public DateTime? TakenBackAt { get; set; }
}
