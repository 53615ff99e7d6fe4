namespace DuneCrate.Store;

/// <summary>A shot as the yard asks for it: words, and the keys of what its state is worked out from.</summary>
public sealed record YardRow
{
    /// <summary>Key of the show.</summary>
    public int ShowId { get; init; }

    /// <summary>Code of the show.</summary>
    public required string Show { get; init; }

    /// <summary>What the show settles, as a document; null for nothing.</summary>
    public string? ShowSettings { get; init; }

    /// <summary>Key of the shot.</summary>
    public int ShotId { get; init; }

    /// <summary>Code of the shot.</summary>
    public required string Shot { get; init; }

    /// <summary>Revision of its plan.</summary>
    public int Revision { get; init; }

    /// <summary>What happened last.</summary>
    public required string LastEvent { get; init; }

    /// <summary>When, UTC.</summary>
    public DateTime LastEventAt { get; init; }

    /// <summary>Key of the newest check, or 0.</summary>
    public int NewestCheck { get; init; }

    /// <summary>Key of the newest finished check, or 0.</summary>
    public int NewestReport { get; init; }

    /// <summary>Whether the newest check waits or runs.</summary>
    public bool IsChecking { get; init; }

    /// <summary>Waivers.</summary>
    public int Waivers { get; init; }

    /// <summary>Key of the newest waiver, or 0.</summary>
    public int NewestWaiver { get; init; }

    /// <summary>Findings that were handed to somebody.</summary>
    public int Notes { get; init; }

    /// <summary>Key of the newest of these, or 0.</summary>
    public int NewestNote { get; init; }

    /// <summary>Sum of the keys of remarks on crates that no crate answers yet: changes whenever those do.</summary>
    public int OpenRemarks { get; init; }

    /// <summary>Crates.</summary>
    public int Crates { get; init; }

    /// <summary>When something about a crate changed last, UTC; null without any.</summary>
    public DateTime? NewestCrateChange { get; init; }
}
