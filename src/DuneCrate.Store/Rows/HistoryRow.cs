namespace DuneCrate.Store.Rows;

/// <summary>An entry of the history. The database refuses to change or delete it.</summary>
public sealed class HistoryRow
{
    /// <summary>Place in the history, from 1.</summary>
    public long Number { get; set; }

    /// <summary>When, UTC, whole milliseconds.</summary>
    public DateTime At { get; set; }

    /// <summary>Who.</summary>
    public required string Who { get; set; }

    /// <summary>What sort of thing.</summary>
    public required string Kind { get; set; }

    /// <summary>Code of the show, or null.</summary>
    public string? Show { get; set; }

    /// <summary>Code of the shot, or null.</summary>
    public string? Shot { get; set; }

    /// <summary>What it was done to.</summary>
    public required string Subject { get; set; }

    /// <summary>What was before, or null.</summary>
    public string? Before { get; set; }

    /// <summary>What was after, or null.</summary>
    public string? After { get; set; }

    /// <summary>Hash of the entry before.</summary>
    public required string Previous { get; set; }

    /// <summary>Its own hash.</summary>
    public required string Hash { get; set; }
}
