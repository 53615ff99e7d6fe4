using System.IO.Enumeration;
using DuneCrate.Foundation.Storage;
using Microsoft.Win32.SafeHandles;

namespace DuneCrate.Imaging.Listing;

/// <summary>Lists the pictures below a folder.</summary>
public static class FolderListing
{
    /// <summary>Most files of a folder: more than any shot has.</summary>
    public const int MostFiles = 5_000_000;

    private const int MostClutter = 10_000;

    private static readonly HashSet<string> Temporary = [".tmp", ".temp", ".part", ".partial", ".crdownload", ".bak", ".swp", ".lock"];

    /// <summary>
    /// Every file with a picture's name below <paramref name="folder"/>, and what is in the way. Hidden names and links to folders are
    /// passed over; links to files are followed for size and time.
    /// </summary>
    /// <param name="folder">The folder.</param>
    /// <param name="cancel">Stops between files.</param>
    /// <exception cref="DirectoryNotFoundException">There is no such folder.</exception>
    /// <exception cref="StorageException">It lies outside the roots, or holds too many files.</exception>
    public static FolderContents Read(StoragePath folder, CancellationToken cancel)
    {
        // Listed through the open folder, so that what is listed is what was checked.
        using SafeFileHandle handle = folder.OpenFolder();
        string top = Posix.ProcPath(handle);
        int start = top.Length + 1,
            count = 0;
        List<string> clutter = [],
            closed = [];
        var options = new EnumerationOptions
        {
            RecurseSubdirectories = true,
            IgnoreInaccessible = true,
            AttributesToSkip = FileAttributes.None,
        };
        var found = new FileSystemEnumerable<IntakeFile>(
            top,
            (ref FileSystemEntry entry) => Listed(folder, handle, entry.ToFullPath()[start..], ref entry),
            options
        )
        {
            ShouldIncludePredicate = (ref FileSystemEntry entry) =>
            {
                cancel.ThrowIfCancellationRequested();
                if (!entry.IsDirectory && clutter.Count < MostClutter && IsClutter(entry.FileName))
                {
                    clutter.Add(entry.ToFullPath()[start..]);
                }

                return !entry.IsDirectory
                    && entry.FileName[0] != '.'
                    && IntakeFile.FormatOf(entry.FileName.ToString()).Length > 0
                    && (
                        ++count <= MostFiles
                            ? true
                            : throw new StorageException(
                                folder.Display,
                                $"holds more than {MostFiles} pictures; name a folder further down."
                            )
                    );
            },
            ShouldRecursePredicate = (ref FileSystemEntry entry) =>
            {
                if (entry.FileName[0] == '.' || IsLink(ref entry))
                {
                    return false;
                }

                string path = entry.ToFullPath()[start..];
                bool isOpen = Posix.MayList(handle, path);
                if (!isOpen)
                {
                    closed.Add(path);
                }

                return isOpen;
            },
        };
        return new FolderContents(
            [.. found.OrderBy(f => f.Path, StringComparer.Ordinal)],
            [.. clutter.Order(StringComparer.Ordinal)],
            [.. closed.Order(StringComparer.Ordinal)]
        );
    }

    /// <summary>One file as a listing of its own, or null when no regular file stands there that may be read.</summary>
    /// <param name="place">The file.</param>
    /// <param name="path">Its path relative to the folder that is taken in.</param>
    public static IntakeFile? OfFile(StoragePath place, string path) =>
        place.Look() is { Kind: FileKind.Regular } stamp ? new IntakeFile(place, path, stamp.Length, stamp.Modified) : null;

    /// <summary>
    /// Whether a name is that of a file which a program was writing or a system left behind, and no frame: a beginning dot, a temporary
    /// ending, a folder's index of thumbnails (common practice).
    /// </summary>
    private static bool IsClutter(ReadOnlySpan<char> name) =>
        name[0] == '.'
        || name[^1] == '~'
        || Temporary.Contains(Path.GetExtension(name).ToString().ToLowerInvariant())
        || name.Equals("Thumbs.db", StringComparison.OrdinalIgnoreCase)
        || name.Equals("desktop.ini", StringComparison.OrdinalIgnoreCase);

    private static bool IsLink(ref FileSystemEntry entry) => (entry.Attributes & FileAttributes.ReparsePoint) != 0;

    private static IntakeFile Listed(StoragePath folder, SafeFileHandle handle, string path, ref FileSystemEntry entry)
    {
        StoragePath place = folder.Below(path);
        return IsLink(ref entry) && Posix.Ask(handle, path, follow: true) is { } target
            ? new IntakeFile(place, path, target.Length, target.Modified)
            : new IntakeFile(place, path, entry.Length, entry.LastWriteTimeUtc.UtcDateTime);
    }
}
