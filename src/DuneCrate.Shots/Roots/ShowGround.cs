using System.Collections.Immutable;
using DuneCrate.Foundation.Storage;
using DuneCrate.Store;
using DuneCrate.Store.Rows;

namespace DuneCrate.Shots.Roots;

/// <summary>
/// The folders that a show may be worked on in, below the storage roots. Listing, taking in, plates and test frames stay inside; whoever
/// looks after the installation may go anywhere below the roots, and what they take in belongs to the show afterwards.
/// </summary>
/// <param name="Show">Code of the show.</param>
/// <param name="Folders">Its folders.</param>
/// <param name="Roots">The storage roots.</param>
public sealed record ShowGround(string Show, ImmutableArray<ShowFolderRow> Folders, StorageRoots Roots)
{
    /// <summary>Names of the roots that somebody may choose from.</summary>
    /// <param name="isKeeper">Whether they look after the installation.</param>
    public IReadOnlyCollection<string> Names(bool isKeeper) =>
        isKeeper ? Roots.Names : [.. Roots.Names.Where(n => Folders.Any(f => f.Root.Equals(n, StringComparison.OrdinalIgnoreCase)))];

    /// <summary>Whether a folder belongs to the show, or lies in one that does.</summary>
    public bool Has(string root, string folder) => Folders.Any(f => ShowFolderStore.Covers(f, root, folder));

    /// <summary>A folder by its name, or a message that says why it is refused. The disk is not asked.</summary>
    public (StoragePath? Path, string? Problem) Place(string? root, string? folder, bool isKeeper = false)
    {
        (StoragePath? path, string? problem) = Roots.Place(root, folder);
        return path is null || isKeeper || Has(root!, path.Relative) ? (path, problem) : (null, Refusal(root!, path.Relative));
    }

    /// <summary>A folder that is there and may be read, or a message that says why it is refused.</summary>
    public (StoragePath? Path, string? Problem) Resolve(string? root, string? folder, bool isKeeper = false)
    {
        (StoragePath? path, string? problem) = Place(root, folder, isKeeper);
        return path is null ? (path, problem) : Roots.Resolve(root, folder);
    }

    /// <summary>Names of the folders in a folder that may be seen: those inside the show's folders, and on the way to them.</summary>
    /// <returns>The names, or a message that says why nothing is shown.</returns>
    public (IReadOnlyList<string> Names, string? Problem) Browse(string? root, string at, bool isKeeper)
    {
        (StoragePath? path, string? problem) = Roots.Resolve(root, at);
        if (path is null)
        {
            return ([], problem);
        }

        if (isKeeper || Has(root!, path.Relative))
        {
            return (StorageRoots.FoldersIn(path), null);
        }

        string before = path.Relative.Length == 0 ? "" : path.Relative + "/";
        string[] onTheWay =
        [
            .. Folders
                .Where(f =>
                    f.Root.Equals(root, StringComparison.OrdinalIgnoreCase) && f.Folder.StartsWith(before, StringComparison.Ordinal)
                )
                .Select(f => f.Folder[before.Length..].Split('/')[0])
                .Where(n => n.Length > 0)
                .Distinct()
                .Order(StringComparer.Ordinal),
        ];
        return onTheWay.Length > 0 ? (onTheWay, null) : ([], Refusal(root!, path.Relative));
    }

    /// <summary>Folders of the show in a root, to choose from.</summary>
    public IReadOnlyList<string> In(string root, bool isKeeper) =>
        [
            .. Folders
                .Where(f => f.Root.Equals(root, StringComparison.OrdinalIgnoreCase) && f.Folder.Length > 0)
                .Select(f => f.Folder)
                .Concat(isKeeper || Has(root, "") ? Roots.Children(root) : [])
                .Distinct(),
        ];

    private string Refusal(string root, string folder) =>
        Folders.IsEmpty
            ? $"No folder belongs to {Show} yet. Whoever looks after the installation gives it some on its settings page."
            : $"'{(folder.Length > 0 ? folder : root)}' does not belong to {Show}, whose folders are "
                + $"{Foundation.Documents.Words.List([.. Folders.Take(5).Select(f => $"{f.Root}/{f.Folder}")])}. Whoever "
                + "looks after the installation adds "
                + "others on the show's settings page.";
}
