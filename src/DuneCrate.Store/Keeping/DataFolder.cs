using System.Collections.Frozen;
using System.Globalization;

namespace DuneCrate.Store.Keeping;

/// <summary>The application's own folder: database, keys and records. One process has it at a time.</summary>
public sealed class DataFolder : IDisposable
{
    /// <summary>Name of the database's file.</summary>
    public const string Database = "dune-crate.db";

    /// <summary>Folder of the backups that the application makes by itself.</summary>
    public const string Backups = "backups";

    /// <summary>Folder of keys: of cookies and of the installation.</summary>
    public const string Keys = "keys";

    /// <summary>Holds the name under which this installation uses an engine.</summary>
    public const string Site = "engine-site";

    /// <summary>Folder of proxies, which can be made anew.</summary>
    public const string Proxies = "proxies";

    /// <summary>What the application and its people put there, beside the database: files, and folders with all that is in them.</summary>
    private static readonly FrozenSet<string> Names = FrozenSet.Create(
        StringComparer.Ordinal,
        Keys,
        Site,
        HistoryAnchor.FileName,
        "dune-crate.json",
        ".dune-crate-demo",
        "logs",
        "crates",
        "composites",
        "renames",
        "drop-box",
        "trials"
    );

    private const string LockFile = "dune-crate.lock",
        HolderFile = "dune-crate.holder";
    private const UnixFileMode OwnerOnly = UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute;

    private readonly FileStream _lock;

    private DataFolder(string path, FileStream held) => (Path, _lock) = (path, held);

    /// <summary>Full path.</summary>
    public string Path { get; }

    /// <summary>A file or folder in it.</summary>
    public string At(string name) => System.IO.Path.Combine(Path, name);

    /// <summary>A folder in it that its owner alone may read, made when it is not there.</summary>
    public DirectoryInfo Private(string name)
    {
        DirectoryInfo folder = Directory.CreateDirectory(At(name), OwnerOnly);
        folder.UnixFileMode = OwnerOnly;
        return folder;
    }

    /// <summary>Makes the folder when it is not there, and takes it for this process.</summary>
    /// <exception cref="IOException">Another process has it, or the disk refuses; the message says who.</exception>
    /// <exception cref="UnauthorizedAccessException">It may not be written.</exception>
    public static DataFolder Take(string path)
    {
        path = System.IO.Path.GetFullPath(path);
        Directory.CreateDirectory(path);
        string holder = System.IO.Path.Combine(path, HolderFile);
        FileStream held;
        try
        {
            held = new FileStream(System.IO.Path.Combine(path, LockFile), FileMode.OpenOrCreate, FileAccess.ReadWrite, FileShare.None);
        }
        catch (IOException) when (File.Exists(System.IO.Path.Combine(path, LockFile)))
        {
            string who = File.Exists(holder) ? File.ReadAllText(holder).Trim() : "another process";
            throw new IOException($"The data folder {path} is in use by {who}. Stop that first, or name another folder with --data.");
        }

        File.WriteAllText(
            holder,
            string.Create(CultureInfo.InvariantCulture, $"process {Environment.ProcessId} on {Environment.MachineName}")
        );
        return new DataFolder(path, held);
    }

    /// <summary>Who has a folder now, in words; null when nobody has.</summary>
    public static string? HolderOf(string path)
    {
        string held = System.IO.Path.Combine(path, LockFile);
        if (!File.Exists(held))
        {
            return null;
        }

        try
        {
            using FileStream file = new(held, FileMode.Open, FileAccess.ReadWrite, FileShare.None);
            return null;
        }
        catch (IOException)
        {
            string holder = System.IO.Path.Combine(path, HolderFile);
            return File.Exists(holder) ? File.ReadAllText(holder).Trim() : "another process";
        }
    }

    /// <summary>Whether something in the folder, by its path below it, is the application's.</summary>
    internal static bool Knows(string relative) => Names.Contains(relative.Split(System.IO.Path.DirectorySeparatorChar)[0]);

    /// <summary>Whether a name in the folder only says who has it.</summary>
    internal static bool IsMark(string name) => name is LockFile or HolderFile;

    /// <summary>Deletes everything in the folder but what holds it.</summary>
    /// <exception cref="IOException">Something cannot be deleted.</exception>
    public void Empty()
    {
        foreach (
            string entry in Directory
                .EnumerateFileSystemEntries(Path)
                .Where(e => System.IO.Path.GetFileName(e) is not (LockFile or HolderFile))
                .ToArray()
        )
        {
            if (Directory.Exists(entry) && new DirectoryInfo(entry).LinkTarget is null)
            {
                Directory.Delete(entry, recursive: true);
            }
            else
            {
                File.Delete(entry);
            }
        }
    }

    /// <summary>Gives the folder up.</summary>
    public void Dispose()
    {
        if (_lock.SafeFileHandle.IsClosed)
        {
            return;
        }

        File.Delete(At(HolderFile));
        _lock.Dispose();
    }
}
