using DuneCrate.Imaging.Pictures.Notes;

namespace DuneCrate.Store.Rows;

/// <summary>A note on a picture, with its answers.</summary>
public sealed class PictureNoteRow
{
    /// <summary>Key.</summary>
    public int Id { get; set; }

    /// <summary>The shot.</summary>
    public int ShotId { get; set; }

    /// <summary>The layer.</summary>
    public required string Layer { get; set; }

    /// <summary>The pass.</summary>
    public required string Pass { get; set; }

    /// <summary>The frame.</summary>
    public int Frame { get; set; }

    /// <summary>What is drawn.</summary>
    public NoteShape Shape { get; set; }

    /// <summary>Column of the first point.</summary>
    public int X { get; set; }

    /// <summary>Line of the first point.</summary>
    public int Y { get; set; }

    /// <summary>Column of the second point.</summary>
    public int EndX { get; set; }

    /// <summary>Line of the second point.</summary>
    public int EndY { get; set; }

    /// <summary>What is meant.</summary>
    public required string Words { get; set; }

    /// <summary>Who wrote it.</summary>
    public required string By { get; set; }

    /// <summary>When, UTC.</summary>
    public DateTime At { get; set; }

    /// <summary>The answers as a JSON array, oldest first.</summary>
    public string AnswersJson { get; set; } = "[]";

    /// <summary>Who settled it; null while it is open.</summary>
    public string? SettledBy { get; set; }

    /// <summary>When it was settled, UTC.</summary>
    public DateTime? SettledAt { get; set; }
}
