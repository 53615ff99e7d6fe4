using System.Collections.Immutable;
using DuneCrate.Foundation.Storage;

namespace DuneCrate.Shots.Roots;

/// <summary>
/// The folders that people may name paths under. Nothing outside them is ever opened for a path that came from a page. What pages ask of
/// disks is answered from what was seen last and
/// looked up beside them, so that no page waits for a disk.
/// </summary>
public sealed class StorageRoots
{
    private const int MostChildren = 500;
    private static readonly TimeSpan Freshness = TimeSpan.FromSeconds(10);

    private readonly Dictionary<string, StorageRoot> _roots;
    private readonly StorageRoot _crates;
    private readonly SeenLately<string, long?> _free;
    private readonly SeenLately<string, ImmutableArray<string>> _children;

    /// <summary>The roots of the application's options; the folder of crates is made when it is not there.</summary>
    /// <exception cref="IOException">A root is not there.</exception>
    public StorageRoots(ServeOptions options)
    {
        Directory.CreateDirectory(options.CratesFolder);
        ImmutableArray<StorageRoot> all = StorageRoot.Together(options.Roots.Append(KeyValuePair.Create("", options.CratesFolder)));
        _roots = all.SkipLast(1).ToDictionary(r => r.Name, StringComparer.OrdinalIgnoreCase);
        _crates = all[^1];
        Names = [.. _roots.Keys.Order(StringComparer.OrdinalIgnoreCase)];
        _free = new(Freshness, options.Clock, root => new DriveInfo(_roots[root].FullPath).AvailableFreeSpace);
        _children = new(Freshness, options.Clock, root => [.. FoldersIn(_roots[root].Top)]);
        foreach (string name in Names) // So that the first page has them.
        {
            _free.Get(name);
            _children.Get(name);
        }
    }

    /// <summary>Names of the roots.</summary>
    public IReadOnlyCollection<string> Names { get; }

    /// <summary>Where each root is, with every link followed.</summary>
    public IReadOnlyDictionary<string, string> Places =>
        _roots.ToDictionary(r => r.Key, r => r.Value.FullPath, StringComparer.OrdinalIgnoreCase);

    /// <summary>The folder under which the crates of a shot are made.</summary>
    public StoragePath CratesOf(string show, string shot) => _crates.Top.At($"{show}/{shot}");

    /// <summary>The folder of a crate by the full path that was noted when it was sealed; null when it lies in no root now.</summary>
    public StoragePath? CrateAt(string fullPath) => Under(_crates, fullPath);

    /// <summary>A folder below a root by its full path, or null when it lies in none.</summary>
    public StoragePath? Find(string fullPath) => _roots.Values.Select(r => Under(r, fullPath)).FirstOrDefault(p => p is not null);

    /// <summary>A folder below a root by its name, or a message that says why it is refused. The disk is not asked.</summary>
    public (StoragePath? Path, string? Problem) Place(string? root, string? folder)
    {
        if (root is null || !_roots.TryGetValue(root, out StorageRoot? top))
        {
            return (
                null,
                Names.Count == 0
                    ? "No storage root is configured. Start the application with --root NAME=DIR."
                    : $"There is no storage root '{root}'; choose {string.Join(" or ", Names)}."
            );
        }

        folder = (folder ?? "").Trim().Trim('/');
        return top.Top.TryAt(folder, out StoragePath? path, out _) && folder.Length <= 1000
            ? (path, null)
            : (null, $"'{folder[..Math.Min(folder.Length, 100)]}' leads out of {root}. Name a folder below it, such as KP010.");
    }

    /// <summary>A folder below a root that is there and may be read, or a message that says why it is refused.</summary>
    public (StoragePath? Path, string? Problem) Resolve(string? root, string? folder)
    {
        (StoragePath? path, string? problem) = Place(root, folder);
        return path is null || path.IsFolder
            ? (path, problem)
            : (
                null,
                path.IsThere
                    ? $"'{path.Relative}' in {root} is not a folder, or is a link that leads out of it."
                    : $"There is no folder '{path.Relative}' in {root}."
            );
    }

    /// <summary>
    /// Room left on the disk of a root (of the first one when none is named) as it was lately, in bytes; null while it is not known.
    /// </summary>
    public long? FreeBytes(string? root) =>
        _roots.ContainsKey(root ?? "") ? _free.Get(root!)
        : Names.FirstOrDefault() is { } first ? _free.Get(first)
        : null;

    /// <summary>Folders directly below a root as they were lately, for the chooser; none while they are not known.</summary>
    public IReadOnlyList<string> Children(string root) =>
        _roots.ContainsKey(root) && _children.Get(root) is { IsDefault: false } children ? children : [];

    /// <summary>Names of the folders in a folder that are neither hidden nor links, in order; empty when it cannot be listed.</summary>
    public static IReadOnlyList<string> FoldersIn(StoragePath folder)
    {
        try
        {
            return
            [
                .. folder
                    .Entries()
                    .Where(e => e.Stamp.Kind == FileKind.Folder && e.Name[0] != '.')
                    .Select(e => e.Name)
                    .Order(StringComparer.Ordinal)
                    .Take(MostChildren),
            ];
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return [];
        }
    }

    private static StoragePath? Under(StorageRoot root, string fullPath)
    {
        string folder = root.FullPath.Length == 0 ? "/" : root.FullPath + "/",
            given = Path.TrimEndingDirectorySeparator(Path.GetFullPath(root.Given)) + "/";
        string? rest =
            fullPath.StartsWith(folder, StringComparison.Ordinal) ? fullPath[folder.Length..]
            : fullPath.StartsWith(given, StringComparison.Ordinal) ? fullPath[given.Length..]
            : null;
        return fullPath + "/" == folder || fullPath + "/" == given ? root.Top
            : rest is not null && root.Top.TryAt(rest.TrimEnd('/'), out StoragePath? path, out _) ? path
            : null;
    }
}
