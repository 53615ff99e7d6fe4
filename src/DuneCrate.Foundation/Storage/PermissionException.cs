namespace DuneCrate.Foundation.Storage;

/// <summary>A file or folder that the system does not let this program open or change; for people.</summary>
/// <param name="path">The path as people know it.</param>
public sealed class PermissionException(string path)
    : UnauthorizedAccessException($"{path} may not be opened or changed; look at its permissions.");
