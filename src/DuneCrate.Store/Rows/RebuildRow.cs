namespace DuneCrate.Store.Rows;

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
