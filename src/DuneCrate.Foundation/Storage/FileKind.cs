namespace DuneCrate.Foundation.Storage;

/// <summary>What stands under a name.</summary>
public enum FileKind
{
    /// <summary>A file with bytes.</summary>
    Regular,

    /// <summary>A folder.</summary>
    Folder,

    /// <summary>A link that was not followed.</summary>
    Link,

    /// <summary>A pipe, a socket or a device.</summary>
    Other,
}
