using System.Collections.Immutable;

namespace DuneCrate.Foundation.Storage;

/// <summary>
/// A folder that people's files lie in. Paths under it are made from its <see cref="Top"/> and cannot leave it; links may lead to it and to
/// the roots that were made together with
/// it, and nowhere else. Immutable; safe to share between threads.
/// </summary>
public sealed class StorageRoot
{
    private ImmutableArray<StorageRoot> _together;

    private StorageRoot(string name, string given, string fullPath)
    {
        (Name, Given, FullPath, _together) = (name, given, fullPath, [this]);
        Top = new StoragePath(this, "");
    }

    /// <summary>Its name; empty for a folder that was named on the command line.</summary>
    public string Name { get; }

    /// <summary>The folder as it was written.</summary>
    public string Given { get; }

    /// <summary>The folder with every link followed, without a slash at the end; empty for the root of the file system.</summary>
    public string FullPath { get; }

    /// <summary>The folder itself.</summary>
    public StoragePath Top { get; }

    /// <summary>One folder alone, as the command line has it.</summary>
    /// <param name="folder">The folder; it must be there.</param>
    /// <param name="others">Further folders that links may lead to.</param>
    /// <exception cref="DirectoryNotFoundException">There is no such folder.</exception>
    public static StorageRoot At(string folder, IEnumerable<StorageRoot>? others = null)
    {
        StorageRoot root = Create("", folder);
        root._together = [root, .. others ?? []];
        return root;
    }

    /// <summary>Several roots by name; links in one may lead to another.</summary>
    /// <exception cref="DirectoryNotFoundException">One of the folders is not there.</exception>
    public static ImmutableArray<StorageRoot> Together(IEnumerable<KeyValuePair<string, string>> folders)
    {
        ImmutableArray<StorageRoot> roots = [.. folders.Select(f => Create(f.Key, f.Value))];
        foreach (StorageRoot root in roots)
        {
            root._together = roots;
        }

        return roots;
    }

    /// <summary>One file alone, as the command line has it: links to it are followed, and its folder is the root.</summary>
    /// <exception cref="IOException">There is no such file.</exception>
    public static StoragePath File(string path)
    {
        using var handle = Posix.OpenPath(path);
        string real = Posix.RealPath(handle) ?? Path.GetFullPath(path);
        int slash = real.LastIndexOf('/');
        return new StorageRoot("", Path.GetDirectoryName(path) ?? "", real[..slash]).Top.At(real[(slash + 1)..]);
    }

    /// <summary>Whether a path with every link followed lies in this root or in one that was made together with it.</summary>
    internal bool Allows(string realPath) => _together.Any(r => r.Holds(realPath));

    private bool Holds(string realPath) =>
        realPath.StartsWith(FullPath, StringComparison.Ordinal) && (realPath.Length == FullPath.Length || realPath[FullPath.Length] == '/');

    private static StorageRoot Create(string name, string folder)
    {
        if (!Directory.Exists(folder))
        {
            throw new DirectoryNotFoundException($"There is no folder {folder}.");
        }

        using var handle = Posix.OpenPath(folder);
        return new StorageRoot(name, folder, (Posix.RealPath(handle) ?? Path.GetFullPath(folder)).TrimEnd('/'));
    }

    /// <summary>Its name or, without one, its folder.</summary>
    public override string ToString() => Name.Length > 0 ? Name : Given;
}
