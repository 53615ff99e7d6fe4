namespace DuneCrate.Core.Storage;

/// <summary>Folders that hold nothing.</summary>
public static class EmptyFolders
{
    /// <summary>Folders below one in which nothing lies, at whatever depth, as paths relative to it; of several nested ones the
    /// innermost. By
    /// name.</summary>
    /// <exception cref="IOException">A folder cannot be listed.</exception>
    public static IEnumerable<string> In(StoragePath folder)
    {
        foreach (
            (string name, _) in folder.Entries().Where(e => e.Stamp.Kind == FileKind.Folder).OrderBy(e => e.Name, StringComparer.Ordinal)
        )
        {
            StoragePath below = folder.At(name);
            if (below.Entries().Count == 0)
            {
                yield return name;
                continue;
            }

            foreach (string inner in In(below))
            {
                yield return $"{name}/{inner}";
            }
        }
    }
}
