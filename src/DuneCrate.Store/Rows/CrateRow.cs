namespace DuneCrate.Store.Rows;

/// <summary>A crate, being sealed or sealed.</summary>
public sealed class CrateRow
{
    /// <summary>Key.</summary>
    public int Id { get; set; }

    /// <summary>The shot.</summary>
    public int ShotId { get; set; }

    /// <summary>State of the sealing.</summary>
    public JobState State { get; set; }

    /// <summary>Layout.</summary>
    public required string Layout { get; set; }

    /// <summary>Who gets it; null when nobody was named.</summary>
    public string? Receiver { get; set; }

    /// <summary>What they wanted when it was asked for, a document <c>dune-crate.recipe/1</c>; null for files as they are.</summary>
    public string? Recipe { get; set; }

    /// <summary>Key of the crate that it is a delta onto; null for a whole one.</summary>
    public int? OntoId { get; set; }

    /// <summary>What its receiver says of it.</summary>
    public CrateAnswer Answer { get; set; }

    /// <summary>Who answered.</summary>
    public string AnsweredBy { get; set; } = "";

    /// <summary>When they did, UTC.</summary>
    public DateTime? Answered { get; set; }

    /// <summary>Name of its folder once it is sealed.</summary>
    public string? Name { get; set; }

    /// <summary>Its folder once it is sealed.</summary>
    public string? Path { get; set; }

    /// <summary>A word of its own that stands in its crate.json, so that a crate that was published and not noted is known again.</summary>
    public Guid SealId { get; set; }

    /// <summary>SHA-256 of its list of checksums when it was sealed; null for crates of earlier versions.</summary>
    public string? SumsDigest { get; set; }

    /// <summary>When its files were deleted because a newer one stands in its place, UTC; null while they are kept.</summary>
    public DateTime? Gone { get; set; }

    /// <summary>Who sealed it.</summary>
    public string By { get; set; } = "";

    /// <summary>When it was asked for, UTC.</summary>
    public DateTime Asked { get; set; }

    /// <summary>When it ended, UTC.</summary>
    public DateTime? Ended { get; set; }

    /// <summary>Files.</summary>
    public int Files { get; set; }

    /// <summary>Bytes.</summary>
    public long Bytes { get; set; }

    /// <summary>Why it was not sealed.</summary>
    public string? Problem { get; set; }

    /// <summary>When it was last read back, UTC.</summary>
    public DateTime? Verified { get; set; }

    /// <summary>
    /// Whether another crate stands in its place: a newer, whole one of the same shot for the same receiver.
    /// </summary>
    public bool IsSupersededBy(CrateRow other) =>
        State == JobState.Done
        && other is { State: JobState.Done, OntoId: null, Gone: null }
        && other.Id > Id
        && other.ShotId == ShotId
        && other.Receiver == Receiver;

    /// <summary>What the last reading found, one per line; empty when it is whole.</summary>
    public string VerifyProblems { get; set; } = "";
}
