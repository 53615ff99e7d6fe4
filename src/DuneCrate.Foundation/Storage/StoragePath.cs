using System.Diagnostics.CodeAnalysis;
using Microsoft.Win32.SafeHandles;

namespace DuneCrate.Foundation.Storage;

/// <summary>
/// A path under a root. It cannot be made otherwise than from the root's top by steps that lead down, and what it opens, writes, moves or
/// deletes is checked again where that
/// happens: reading follows links as long as they end in a root, writing follows none. Two are equal when root and path are. Immutable;
/// safe to share between threads.
/// </summary>
/// <remarks>Source of the cases that are refused: OWASP Application Security Verification Standard 4.0.3, V12.3 (file execution and path
/// traversal).</remarks>
public sealed partial class StoragePath : IEquatable<StoragePath>
{
    internal StoragePath(StorageRoot root, string relative)
    {
        (Root, Relative) = (root, relative);
        FullPath = relative.Length == 0 ? (root.FullPath.Length == 0 ? "/" : root.FullPath) : $"{root.FullPath}/{relative}";
    }

    /// <summary>The root.</summary>
    public StorageRoot Root { get; }

    /// <summary>The path below the root, with <c>/</c>; empty for the root itself.</summary>
    public string Relative { get; }

    /// <summary>The path from the top of the file system. For keys and for people; opening goes through the methods here.</summary>
    public string FullPath { get; }

    /// <summary>The path as people wrote its beginning.</summary>
    public string Display =>
        Relative.Length == 0 ? Root.Given
        : Root.Given.Length == 0 ? Relative
        : $"{Root.Given.TrimEnd('/')}/{Relative}";

    /// <summary>The last step.</summary>
    public string Name => Relative[(Relative.LastIndexOf('/') + 1)..];

    /// <summary>The folder it stands in; the root's top stands in itself.</summary>
    public StoragePath Parent => Relative.Length == 0 ? this : new StoragePath(Root, Relative[..Math.Max(0, Relative.LastIndexOf('/'))]);

    /// <summary>A path below this one.</summary>
    /// <param name="relative">Steps with <c>/</c> between them; empty for this path.</param>
    /// <exception cref="StorageException">It is absolute, has a step that is empty, <c>.</c> or <c>..</c>, or a character that no name can
    /// have.</exception>
    public StoragePath At(string relative) =>
        TryAt(relative, out StoragePath? path, out string? problem) ? path : throw new StorageException(relative, problem);

    /// <summary>A path below this one, or why there can be none, so that the text and the reason make a sentence.</summary>
    public bool TryAt(string relative, [NotNullWhen(true)] out StoragePath? path, [NotNullWhen(false)] out string? problem)
    {
        problem = Problem(relative);
        path =
            problem is not null ? null
            : relative.Length == 0 ? this
            : Below(relative);
        return path is not null;
    }

    /// <summary>A path below this one whose steps came from listing the folder.</summary>
    internal StoragePath Below(string relative) => new(Root, Relative.Length == 0 ? relative : $"{Relative}/{relative}");

    /// <summary>Why a text is no path below a folder, so that the two make a sentence; null when it is one.</summary>
    public static string? Problem(string relative)
    {
        if (relative.Contains('\0'))
        {
            return "has the character 0 in it, which no path can have.";
        }

        foreach (Range step in relative.AsSpan().Split('/'))
        {
            if (relative.Length > 0 && relative.AsSpan(step) is "" or "." or "..")
            {
                return "leads out of its folder; name a path below it, without empty, . or .. steps.";
            }
        }

        return null;
    }

    /// <summary>What stands there, links followed; null when there is nothing or it lies outside the roots.</summary>
    public FileStamp? Look()
    {
        try
        {
            using SafeFileHandle handle = Posix.OpenPath(FullPath);
            return IsInside(handle) ? Posix.Ask(handle, Display) : null;
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            return null;
        }
    }

    /// <summary>Whether anything stands under this name, a link that leads nowhere too.</summary>
    public bool IsThere => Posix.Ask(null, FullPath, follow: false) is not null;

    /// <summary>Whether a regular file stands there that may be read through this path.</summary>
    public bool IsFile => Look()?.Kind == FileKind.Regular;

    /// <summary>Whether a folder stands there that may be listed through this path.</summary>
    public bool IsFolder => Look()?.Kind == FileKind.Folder;

    /// <summary>
    /// Opens a file for reading. Links are followed; where they end must lie in a root, and only a regular file is opened: both are checked
    /// on the open handle.
    /// </summary>
    /// <exception cref="StorageException">It is no regular file or lies outside the roots.</exception>
    /// <exception cref="IOException">There is no such file, or the disk refuses.</exception>
    /// <exception cref="UnauthorizedAccessException">The file may not be read.</exception>
    public StorageFile Open()
    {
        using SafeFileHandle handle = OpenInside();
        return Opened(handle);
    }

    /// <summary>Opens a file for reading by steps that follow no link.</summary>
    /// <inheritdoc cref="Open" path="/exception"/>
    public StorageFile OpenItself()
    {
        using SafeFileHandle folder = WalkTo(Parent.Relative, make: false),
            handle = Posix.OpenPathItself(folder, Name, Display);
        return Opened(handle);
    }

    private StorageFile Opened(SafeFileHandle handle) =>
        Posix.Ask(handle, Display).Kind switch
        {
            FileKind.Regular => new StorageFile(this, Posix.Reopen(handle, Display)),
            FileKind.Folder => throw new StorageException(Display, "is a folder."),
            FileKind.Link => throw new StorageException(Display, "is a link and is not followed."),
            _ => throw new StorageException(Display, "is not a regular file and is not opened."),
        };

    /// <summary>Reads a text file in UTF-8; no link is followed.</summary>
    /// <param name="mostBytes">Bytes that it may have.</param>
    /// <inheritdoc cref="Open" path="/exception"/>
    public string ReadText(long mostBytes)
    {
        using StorageFile file = OpenItself();
        if (file.Length > mostBytes)
        {
            throw new StorageException(Display, $"has {file.Length} bytes, more than the {mostBytes} that are read.");
        }

        using var reader = new StreamReader(file.ToStream());
        return reader.ReadToEnd();
    }

    /// <summary>A handle on a folder for listing it, links followed.</summary>
    /// <exception cref="DirectoryNotFoundException">There is no such folder.</exception>
    /// <exception cref="StorageException">It lies outside the roots.</exception>
    internal SafeFileHandle OpenFolder()
    {
        SafeFileHandle handle;
        try
        {
            handle = OpenInside();
        }
        catch (FileNotFoundException)
        {
            throw new DirectoryNotFoundException($"There is no folder {Display}.");
        }

        if (Posix.Ask(handle, Display).Kind != FileKind.Folder)
        {
            handle.Dispose();
            throw new DirectoryNotFoundException($"{Display} is no folder.");
        }

        return handle;
    }

    /// <summary>The names directly in the folder, links not followed: what they are is asked for each. In no particular order.</summary>
    /// <exception cref="IOException">The folder cannot be listed.</exception>
    public IReadOnlyList<(string Name, FileStamp Stamp)> Entries()
    {
        using SafeFileHandle folder = OpenFolder();
        var entries = new List<(string, FileStamp)>();
        foreach (string full in Directory.EnumerateFileSystemEntries(Posix.ProcPath(folder)))
        {
            string name = full[(full.LastIndexOf('/') + 1)..];
            if (Posix.Ask(folder, name, follow: false) is { } stamp)
            {
                entries.Add((name, stamp));
            }
        }

        return entries;
    }

    /// <summary>Makes the folder, and those above it.</summary>
    /// <exception cref="IOException">A step is a link or no folder, or the disk refuses.</exception>
    public void CreateFolder() => WalkTo(Relative, make: true).Dispose();

    /// <summary>
    /// Everything below the folder that is no folder, as paths relative to it, with what it is: links are told and not followed. By name.
    /// </summary>
    /// <exception cref="IOException">A folder cannot be listed.</exception>
    public IEnumerable<(string Path, FileStamp Stamp)> Everything()
    {
        foreach ((string name, FileStamp stamp) in Entries().OrderBy(e => e.Name, StringComparer.Ordinal))
        {
            if (stamp.Kind != FileKind.Folder)
            {
                yield return (name, stamp);
                continue;
            }

            foreach ((string path, FileStamp inner) in Below(name).Everything())
            {
                yield return ($"{name}/{path}", inner);
            }
        }
    }

    /// <summary>Makes a new file for writing, and the folders above it.</summary>
    /// <exception cref="IOException">The name is taken, a step is a link, or the disk refuses.</exception>
    public FileStream CreateNew()
    {
        using SafeFileHandle folder = WalkTo(Parent.Relative, make: true);
        return new FileStream(Posix.CreateNew(folder, Name, Display), FileAccess.Write, 0);
    }

    /// <summary>
    /// Writes a whole file: under a name of its own first, which then takes the place of whatever had this name. At no moment is there half
    /// of it.
    /// </summary>
    /// <exception cref="IOException">A step is a link, or the disk refuses; what was there before is there still.</exception>
    /// <param name="write">Writes the content.</param>
    /// <param name="isLasting">Whether it must last through a power failure once this returns, which takes some milliseconds.</param>
    public void Replace(Action<Stream> write, bool isLasting = true)
    {
        StoragePath partial = Parent.Below(HalfWritten.NameOf(Name));
        try
        {
            partial.Parent.CreateFolder();
            partial.Delete();
            using (FileStream file = partial.CreateNew())
            using (var stream = new BufferedStream(file, 1 << 16))
            {
                write(stream);
                stream.Flush();
                file.Flush(flushToDisk: isLasting);
            }

            partial.MoveTo(this, replace: true);
            if (isLasting)
            {
                Parent.FlushFolder();
            }
        }
        catch
        {
            partial.Delete();
            throw;
        }
    }

    /// <summary>Writes a whole text file in UTF-8.</summary>
    /// <inheritdoc cref="Replace" path="/exception"/>
    public void ReplaceText(string text) => Replace(stream => stream.Write(System.Text.Encoding.UTF8.GetBytes(text)));

    /// <summary>Moves the file or folder. Links are moved and never followed.</summary>
    /// <param name="to">Where to; the folders above it are made.</param>
    /// <param name="replace">Whether a file that has the name already is replaced.</param>
    /// <exception cref="IOException">The name is taken, a step is a link, or the disk refuses; nothing has changed then.</exception>
    public void MoveTo(StoragePath to, bool replace = false)
    {
        using SafeFileHandle from = WalkTo(Parent.Relative, make: false),
            target = to.WalkTo(to.Parent.Relative, make: true);
        Posix.Move(from, Name, target, to.Name, replace, Display, to.Display);
    }

    /// <summary>Deletes the file, or the link itself. Nothing happens when it is not there.</summary>
    /// <exception cref="IOException">A step is a link, or the disk refuses.</exception>
    public void Delete()
    {
        using SafeFileHandle folder = WalkTo(Parent.Relative, make: false);
        Posix.Delete(folder, Name, isFolder: false, Display);
    }

    /// <summary>
    /// Deletes the folder with everything in it; links in it are deleted and never followed. Nothing happens when it is not there.
    /// </summary>
    /// <exception cref="IOException">A step is a link, or the disk refuses.</exception>
    public void DeleteFolder()
    {
        using SafeFileHandle folder = WalkTo(Parent.Relative, make: false);
        DeleteFolder(folder, Name, Display);
    }

    private static void DeleteFolder(SafeFileHandle parent, string name, string display)
    {
        if (Posix.Ask(parent, name, follow: false) is not { } stamp)
        {
            return;
        }

        if (stamp.Kind != FileKind.Folder)
        {
            Posix.Delete(parent, name, isFolder: false, display);
            return;
        }

        using (SafeFileHandle folder = Posix.OpenFolder(parent, name, display))
        {
            foreach (string entry in Directory.EnumerateFileSystemEntries(Posix.ProcPath(folder)).ToArray())
            {
                string inner = entry[(entry.LastIndexOf('/') + 1)..];
                DeleteFolder(folder, inner, $"{display}/{inner}");
            }
        }

        Posix.Delete(parent, name, isFolder: true, display);
    }

    /// <summary>A folder under the root by steps that follow no link.</summary>
    private SafeFileHandle WalkTo(string relative, bool make)
    {
        SafeFileHandle at = Posix.OpenFolder(null, Root.FullPath.Length == 0 ? "/" : Root.FullPath, Root.Given);
        foreach (string step in relative.Split('/', StringSplitOptions.RemoveEmptyEntries))
        {
            try
            {
                if (make)
                {
                    Posix.MakeFolder(at, step, Display);
                }

                SafeFileHandle next = Posix.OpenFolder(at, step, Display);
                at.Dispose();
                at = next;
            }
            catch (IOException) when (Posix.Ask(at, step, follow: false) is { Kind: not FileKind.Folder } stamp)
            {
                at.Dispose();
                throw new StorageException(
                    Display,
                    $"cannot be changed: {step} on the way to it is {(stamp.Kind == FileKind.Link ? "a link" : "no folder")}."
                );
            }
            catch
            {
                at.Dispose();
                throw;
            }
        }

        return at;
    }

    private SafeFileHandle OpenInside()
    {
        SafeFileHandle handle;
        try
        {
            handle = Posix.OpenPath(FullPath);
        }
        catch (FileNotFoundException) when (Posix.Ask(null, FullPath, follow: false) is { Kind: FileKind.Link })
        {
            throw new StorageException(Display, "is a link that leads nowhere.");
        }
        catch (FileNotFoundException)
        {
            throw new FileNotFoundException($"There is no file {Display}.");
        }

        if (IsInside(handle))
        {
            return handle;
        }

        handle.Dispose();
        throw new StorageException(Display, $"is a link that leads out of {Root}; only files in a storage root are opened.");
    }

    private bool IsInside(SafeFileHandle handle) => Posix.RealPath(handle) is { } real && Root.Allows(real);

    /// <inheritdoc/>
    public bool Equals(StoragePath? other) => other is not null && other.Root == Root && other.Relative == Relative;

    /// <inheritdoc/>
    public override bool Equals(object? obj) => Equals(obj as StoragePath);

    /// <inheritdoc/>
    public override int GetHashCode() => FullPath.GetHashCode(StringComparison.Ordinal);

    /// <summary>The path as people wrote its beginning.</summary>
    public override string ToString() => Display;
}
