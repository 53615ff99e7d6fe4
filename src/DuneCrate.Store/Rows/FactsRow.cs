namespace DuneCrate.Store.Rows;

/// <summary>Remembered facts of one file. What its header says lies in a <see cref="FactShapeRow"/> that the files of a sequence share.</summary>
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

/// <summary>A folder with remembered facts.</summary>
public sealed class FactFolderRow
{
    /// <summary>Key.</summary>
    public int Id { get; set; }

    /// <summary>Full path.</summary>
    public required string Path { get; set; }

    /// <summary>The day on which its facts were last asked for, in days since 1970, UTC.</summary>
    public int Seen { get; set; }
}

/// <summary>A remembered rebuild of a frame whose passes lie in several files.</summary>
public sealed class RebuildRow
{
    /// <summary>XXH3 (128 bit) of the recipe and the content of all files.</summary>
    public required byte[] Hash { get; set; }

    /// <summary>The folder of the file with the beauty.</summary>
    public int FolderId { get; set; }

    /// <summary>The facts as JSON.</summary>
    public required string Facts { get; set; }
}

/// <summary>What headers say that are alike but for name, size, time and render seconds.</summary>
public sealed class FactShapeRow
{
    /// <summary>Key.</summary>
    public int Id { get; set; }

    /// <summary>XXH3 (64 bit) of the text.</summary>
    public long Hash { get; set; }

    /// <summary>The facts as JSON, Brotli-compressed.</summary>
    public required byte[] Facts { get; set; }
}
