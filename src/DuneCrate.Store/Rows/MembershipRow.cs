namespace DuneCrate.Store.Rows;

/// <summary>What a person is in a show.</summary>
public sealed class MembershipRow
{
    /// <summary>Key.</summary>
    public int Id { get; set; }

    /// <summary>The person.</summary>
    public int PersonId { get; set; }

    /// <summary>The person.</summary>
    public PersonRow Person { get; set; } = null!;

    /// <summary>The show.</summary>
    public int ShowId { get; set; }

    /// <summary>The show.</summary>
    public ShowRow Show { get; set; } = null!;

    /// <summary>The role.</summary>
    public ShowRole Role { get; set; }
}
