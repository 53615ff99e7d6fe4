namespace DuneCrate.Store.Rows;

/// <summary>One check of a shot.</summary>
public sealed class CheckRow
{
    /// <summary>Key.</summary>
    public int Id { get; set; }

    /// <summary>The shot.</summary>
    public int ShotId { get; set; }

    /// <summary>State.</summary>
    public JobState State { get; set; }

    /// <summary>Whether every pixel is read.</summary>
    public bool Pixels { get; set; }

    /// <summary>Whether files were told apart by content instead of by size and time.</summary>
    public bool ByContent { get; set; }

    /// <summary>Revision of the plan it was held against.</summary>
    public int Revision { get; set; }

    /// <summary>When it was asked for, UTC.</summary>
    public DateTime Asked { get; set; }

    /// <summary>When it ended, UTC.</summary>
    public DateTime? Ended { get; set; }

    /// <summary>Why it failed.</summary>
    public string? Problem { get; set; }

    /// <summary>The report as a document, Brotli-compressed UTF-8.</summary>
    public byte[]? Report { get; set; }
}
