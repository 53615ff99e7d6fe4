namespace DuneCrate.Store.Rows;

/// <summary>A finding that was handed to a person with a note.</summary>
public sealed class FindingNoteRow
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

    /// <summary>Who has it now.</summary>
    public required string To { get; set; }

    /// <summary>Who handed it over.</summary>
    public required string By { get; set; }

    /// <summary>What they wrote.</summary>
    public required string Note { get; set; }

    /// <summary>When, UTC.</summary>
    public DateTime At { get; set; }
}
