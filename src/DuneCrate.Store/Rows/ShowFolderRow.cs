namespace DuneCrate.Store.Rows;

/// <summary>A folder below a storage root that belongs to a show: its people see, take in and lay into stacks what lies in it.</summary>
public sealed class ShowFolderRow
{
    /// <summary>Key.</summary>
    public int Id { get; set; }

    /// <summary>The show.</summary>
    public int ShowId { get; set; }

    /// <summary>The show.</summary>
    public ShowRow Show { get; set; } = null!;

    /// <summary>Name of the storage root.</summary>
    public required string Root { get; set; }

    /// <summary>Folder below it, with <c>/</c>; empty for all of the root.</summary>
    public string Folder { get; set; } = "";
}
