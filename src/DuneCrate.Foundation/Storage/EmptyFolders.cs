namespace DuneCrate.Foundation.Storage;

/// <summary>Folders that hold nothing.</summary>
public static class EmptyFolders
{
    /// <summary>Folders below one in which nothing lies, at whatever depth, as paths relative to it; of several nested ones the innermost.
    /// By name.</summary>
    /// <exception cref="IOException">A folder cannot be listed.</exception>
    public static IEnumerable<string> In(StoragePath folder) => In(folder, folder.Entries());

    private static IEnumerable<string> In(StoragePath folder, IEnumerable<(string Name, FileStamp Stamp)> entries)
    {
        foreach ((string name, _) in entries.Where(e => e.Stamp.Kind == FileKind.Folder).OrderBy(e => e.Name, StringComparer.Ordinal))
        {
            StoragePath below = folder.At(name);
            IReadOnlyList<(string Name, FileStamp Stamp)> inside = below.Entries();
            if (inside.Count == 0)
            {
                yield return name;
                continue;
            }

            foreach (string inner in In(below, inside))
            {
                yield return $"{name}/{inner}";
            }
        }
    }
}
