using System.Collections.Immutable;

namespace DuneCrate.Core.Intake;

/// <summary>Lists the pictures below a folder.</summary>
public static class FolderListing
{
    /// <summary>Every file with a picture's name below <paramref name="folder"/>, ordered by path. Hidden names and links to folders are passed over.</summary>
    /// <exception cref="DirectoryNotFoundException">There is no such folder.</exception>
    public static ImmutableArray<IntakeFile> Of(string folder)
    {
        var root = new DirectoryInfo(folder);
        if (!root.Exists)
        {
            throw new DirectoryNotFoundException($"There is no folder {folder}.");
        }

        int start = root.FullName.TrimEnd('/').Length + 1;
        var options = new EnumerationOptions { RecurseSubdirectories = true, IgnoreInaccessible = true, AttributesToSkip = FileAttributes.None };
        var found = new System.IO.Enumeration.FileSystemEnumerable<IntakeFile>(root.FullName, (ref System.IO.Enumeration.FileSystemEntry entry) =>
        {
            string full = entry.ToFullPath();
            return new IntakeFile(full, full[start..], entry.Length, entry.LastWriteTimeUtc.UtcDateTime);
        }, options)
        {
            ShouldIncludePredicate = (ref System.IO.Enumeration.FileSystemEntry entry) => !entry.IsDirectory && entry.FileName[0] != '.' && IntakeFile.FormatOf(entry.FileName.ToString()).Length > 0,
            ShouldRecursePredicate = (ref System.IO.Enumeration.FileSystemEntry entry) => entry.FileName[0] != '.' && (entry.Attributes & FileAttributes.ReparsePoint) == 0,
        };
        return [.. found.OrderBy(f => f.Path, StringComparer.Ordinal)];
    }

    /// <summary>One file as a listing of its own.</summary>
    /// <exception cref="FileNotFoundException">There is no such file.</exception>
    public static IntakeFile OfFile(string path)
    {
        var info = new FileInfo(path);
        return info.Exists ? new IntakeFile(info.FullName, info.Name, info.Length, info.LastWriteTimeUtc) : throw new FileNotFoundException($"There is no file {path}.", path);
    }
}
