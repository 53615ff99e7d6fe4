namespace DuneCrate.Store.Rows;

/// <summary>
/// Remembered facts of one file. What its header says lies in a <see cref="FactShapeRow"/> that the files of a sequence share.
/// </summary>
public sealed class FactsRow
{
    /// <summary>The folder.</summary>
    public int FolderId { get; set; }

    /// <summary>The file's name in it.</summary>
    public required string Name { get; set; }

    /// <summary>Size in bytes when it was read.</summary>
    public long Bytes { get; set; }

    /// <summary>Time of the last change when it was read, in ticks, UTC.</summary>
    public long Modified { get; set; }

    /// <summary>The header's facts.</summary>
    public int ShapeId { get; set; }

    /// <summary>Seconds that its header says it took: the one thing that differs from frame to frame.</summary>
    public double? RenderSeconds { get; set; }

    /// <summary>What the pixel facts are the answer to, hashed; null without them.</summary>
    public long? Request { get; set; }

    /// <summary>The facts with pixels as JSON, Brotli-compressed; null at header depth.</summary>
    public byte[]? Pixels { get; set; }

    /// <summary>XXH3 (128 bit) of the whole file; null until somebody asked to go by content.</summary>
    public byte[]? Content { get; set; }
}
