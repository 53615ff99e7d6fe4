namespace DuneCrate.Store.Rows;

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
