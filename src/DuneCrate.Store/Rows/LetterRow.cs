namespace DuneCrate.Store.Rows;

/// <summary>Something that is told to somebody outside: tried until it went out, or too often.</summary>
public sealed class LetterRow
{
    /// <summary>Key.</summary>
    public int Id { get; set; }

    /// <summary>What it is about: a kind of letter.</summary>
    public required string Kind { get; set; }

    /// <summary>How it goes out: mail, program or address.</summary>
    public required string Way { get; set; }

    /// <summary>To whom: a mail address, or empty for what the configuration names.</summary>
    public string To { get; set; } = "";

    /// <summary>Its subject.</summary>
    public required string Subject { get; set; }

    /// <summary>The JSON document.</summary>
    public required string Document { get; set; }

    /// <summary>When it was written, UTC.</summary>
    public DateTime At { get; set; }

    /// <summary>How often it was tried.</summary>
    public int Tries { get; set; }

    /// <summary>When it is tried next, UTC; null once it went out or was given up.</summary>
    public DateTime? NextAt { get; set; }

    /// <summary>When it went out, UTC, or null.</summary>
    public DateTime? SentAt { get; set; }

    /// <summary>Why it did not go out the last time, or null.</summary>
    public string? Problem { get; set; }
}
