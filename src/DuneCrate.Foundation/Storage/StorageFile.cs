using Microsoft.Win32.SafeHandles;

namespace DuneCrate.Foundation.Storage;

/// <summary>
/// A person's file, open for reading: a regular file in a root, as was checked on the open handle. Belongs to one thread at a time.
/// </summary>
public sealed class StorageFile : IDisposable
{
    internal StorageFile(StoragePath path, SafeFileHandle handle) =>
        (Path, Handle, Stamp) = (path, handle, Posix.Ask(handle, path.Display));

    /// <summary>Where it was opened.</summary>
    public StoragePath Path { get; }

    /// <summary>The open handle.</summary>
    public SafeFileHandle Handle { get; }

    /// <summary>What it was when it was opened.</summary>
    public FileStamp Stamp { get; }

    /// <summary>Bytes when it was opened.</summary>
    public long Length => Stamp.Length;

    /// <summary>Whether somebody wrote to it since it was opened.</summary>
    public bool HasChanged => Posix.Ask(Handle, Path.Display) != Stamp;

    /// <summary>A path that leads to the open file itself, for libraries that take paths.</summary>
    public string ProcPath => Posix.ProcPath(Handle);

    /// <summary>A stream over it from its beginning; closing the stream leaves the file open.</summary>
    public FileStream ToStream() => new(new SafeFileHandle(Handle.DangerousGetHandle(), ownsHandle: false), FileAccess.Read, 4096);

    /// <summary>Closes it.</summary>
    public void Dispose() => Handle.Dispose();
}
