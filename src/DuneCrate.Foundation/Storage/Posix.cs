using System.Runtime.InteropServices;
using Microsoft.Win32.SafeHandles;

namespace DuneCrate.Foundation.Storage;

/// <summary>
/// The few system calls that .NET has no method for: opening without blocking and without following, asking an open handle what it is, and
/// moving, making and deleting relative to an open folder. Source: the Linux manual pages open(2), openat(2), statx(2), renameat2(2),
/// unlinkat(2), mkdirat(2). Linux on x64 and arm64.
/// </summary>
internal static partial class Posix
{
    /// <summary>Relative to the process's working folder.</summary>
    private const int AtFdCwd = -100;

    private const int AtSymlinkNoFollow = 0x100,
        AtRemoveDir = 0x200,
        AtSymlinkFollow = 0x400,
        AtEmptyPath = 0x1000;
    private const uint BasicStats = 0x7ff;

    /// <summary>FICLONE of linux/fs.h: _IOW(0x94, 9, int).</summary>
    private const uint CloneFile = 0x4004_9409;

    private const int ReadOnly = 0,
        WriteOnly = 1,
        Create = 0x40,
        Exclusive = 0x80,
        NoControllingTerminal = 0x100,
        CloseOnExec = 0x80000,
        PathOnly = 0x200000;

    // These two differ between the processors.
    private static readonly bool IsArm = RuntimeInformation.ProcessArchitecture == Architecture.Arm64;
    private static readonly int FolderOnly = IsArm ? 0x4000 : 0x10000,
        NoFollow = IsArm ? 0x8000 : 0x20000;

    /// <summary>A disk has no room left.</summary>
    internal const int NoSpace = 28;

    /// <summary>A person may have no more of a disk.</summary>
    internal const int QuotaExceeded = 122;

    /// <summary>Numbers of errors that are told apart.</summary>
    private const int NotPermitted = 1,
        NoEntry = 2,
        NoDevice = 6,
        AccessDenied = 13,
        Exists = 17,
        CrossDevice = 18,
        NotAFolder = 20,
        IsAFolder = 21,
        Invalid = 22,
        TooManyOpenHere = 24,
        ReadOnlySystem = 30,
        NameTooLong = 36,
        NotEmpty = 39,
        Loop = 40,
        Stale = 116;

    /// <summary>
    /// A handle that can be asked about and opened again, and nothing else: opening it has no effect on pipes and devices. Links are
    /// followed.
    /// </summary>
    public static SafeFileHandle OpenPath(string path) => Opened(openat(AtFdCwd, path, PathOnly | CloseOnExec, 0), path);

    /// <summary>The same for a name in an open folder; a link itself is what is opened.</summary>
    public static SafeFileHandle OpenPathItself(SafeFileHandle folder, string name, string path) =>
        Opened(openat(Number(folder), name, PathOnly | NoFollow | CloseOnExec, 0), path);

    /// <summary>Opens for reading what another handle points at.</summary>
    public static SafeFileHandle Reopen(SafeFileHandle handle, string path) =>
        Opened(openat(AtFdCwd, ProcPath(handle), ReadOnly | CloseOnExec | NoControllingTerminal, 0), path);

    /// <summary>Opens a folder in an open one (or at a path without one); a link is refused.</summary>
    public static SafeFileHandle OpenFolder(SafeFileHandle? folder, string name, string path) =>
        Opened(openat(Number(folder), name, ReadOnly | FolderOnly | CloseOnExec | (folder is null ? 0 : NoFollow), 0), path);

    /// <summary>Whether a folder below an open one may be listed and gone into; one that went away in between may.</summary>
    public static bool MayList(SafeFileHandle folder, string path)
    {
        using var opened = new SafeFileHandle(
            openat(Number(folder), path + "/.", ReadOnly | FolderOnly | CloseOnExec, 0),
            ownsHandle: true
        );
        return !opened.IsInvalid || Marshal.GetLastPInvokeError() is NoEntry or NotAFolder;
    }

    /// <summary>Makes a file in an open folder, for writing; what is there already is never opened.</summary>
    public static SafeFileHandle CreateNew(SafeFileHandle folder, string name, string path) =>
        Opened(openat(Number(folder), name, WriteOnly | Create | Exclusive | NoFollow | CloseOnExec, 0x1b6), path);

    /// <summary>Makes a folder in an open one; one that is there already will do.</summary>
    public static void MakeFolder(SafeFileHandle folder, string name, string path)
    {
        if (mkdirat(Number(folder), name, 0x1ff) != 0 && Marshal.GetLastPInvokeError() is var error && error != Exists)
        {
            throw Error(error, path);
        }
    }

    /// <summary>Moves a file or folder; a name that is taken is refused, unless files may be replaced.</summary>
    public static void Move(
        SafeFileHandle fromFolder,
        string from,
        SafeFileHandle toFolder,
        string to,
        bool replace,
        string path,
        string toPath
    )
    {
        int result = renameat2(Number(fromFolder), from, Number(toFolder), to, replace ? 0u : 1u),
            error = Marshal.GetLastPInvokeError();
        if (result != 0 && !replace && error == Invalid)
        {
            // Some network file systems cannot refuse a taken name by themselves.
            if (Ask(toFolder, to, follow: false) is not null)
            {
                throw Error(Exists, toPath);
            }

            (result, error) = (renameat2(Number(fromFolder), from, Number(toFolder), to, 0), Marshal.GetLastPInvokeError());
        }

        if (result != 0)
        {
            throw Error(error, error is Exists or NotEmpty ? toPath : path);
        }
    }

    /// <summary>Deletes a name in an open folder; never what a link points at.</summary>
    public static void Delete(SafeFileHandle folder, string name, bool isFolder, string path)
    {
        if (
            unlinkat(Number(folder), name, isFolder ? AtRemoveDir : 0) != 0
            && Marshal.GetLastPInvokeError() is var error
            && error != NoEntry
        )
        {
            throw Error(error, path);
        }
    }

    /// <summary>What a name in an open folder (or a path without one) is; null when there is nothing.</summary>
    public static FileStamp? Ask(SafeFileHandle? folder, string name, bool follow)
    {
        Span<byte> buffer = stackalloc byte[256];
        return statx(Number(folder), name, follow ? 0 : AtSymlinkNoFollow, BasicStats, buffer) == 0 ? Read(buffer) : null;
    }

    /// <summary>What an open handle is.</summary>
    public static FileStamp Ask(SafeFileHandle handle, string path)
    {
        Span<byte> buffer = stackalloc byte[256];
        return statx(Number(handle), "", AtEmptyPath, BasicStats, buffer) == 0
            ? Read(buffer)
            : throw Error(Marshal.GetLastPInvokeError(), path);
    }

    /// <summary>Where an open handle really is: every link followed. Null when the system does not say.</summary>
    public static string? RealPath(SafeFileHandle handle) => new FileInfo(ProcPath(handle)).LinkTarget;

    /// <summary>A path that leads to an open handle, for libraries that take paths.</summary>
    public static string ProcPath(SafeFileHandle handle) =>
        string.Create(System.Globalization.CultureInfo.InvariantCulture, $"/proc/self/fd/{Number(handle)}");

    /// <summary>An error in words.</summary>
    public static Exception Error(int error, string path) =>
        error switch
        {
            NoEntry or NotAFolder => new FileNotFoundException($"There is no file {path}."),
            NotPermitted or AccessDenied => new PermissionException(path),
            _ => new StorageException(
                path,
                error switch
                {
                    Exists or NotEmpty => "is there already; nothing was written over.",
                    Loop => "is a link, or a chain of links that leads nowhere.",
                    NoDevice => "is not a regular file.",
                    CrossDevice => "lies on another disk and cannot be moved.",
                    IsAFolder => "is a folder.",
                    NoSpace or QuotaExceeded => "does not fit: there is no room left on the disk.",
                    ReadOnlySystem => "lies on a disk that cannot be written.",
                    NameTooLong => "has a longer name than the file system takes.",
                    TooManyOpenHere => "cannot be opened: too many files are open.",
                    Stale => "is not to be reached: its network disk went away.",
                    _ => $"could not be opened or changed (error {error} of the system).",
                }
            ),
        };

    private static FileStamp Read(ReadOnlySpan<byte> stat) =>
        new(
            (BitConverter.ToUInt16(stat[28..]) & 0xf000) switch
            {
                0x8000 => FileKind.Regular,
                0x4000 => FileKind.Folder,
                0xa000 => FileKind.Link,
                _ => FileKind.Other,
            },
            BitConverter.ToInt64(stat[40..]),
            Ticks(stat[112..]),
            Ticks(stat[96..]),
            BitConverter.ToInt64(stat[32..]),
            ((long)BitConverter.ToUInt32(stat[136..]) << 32) | BitConverter.ToUInt32(stat[140..])
        );

    /// <summary>A time of the file system (seconds and nanoseconds since 1970) in ticks of 100 ns since the year 1, UTC.</summary>
    private static long Ticks(ReadOnlySpan<byte> time)
    {
        long seconds = Math.Clamp(BitConverter.ToInt64(time), -62_135_596_800, 253_402_300_799);
        return DateTime.UnixEpoch.Ticks + seconds * TimeSpan.TicksPerSecond + BitConverter.ToUInt32(time[8..]) / 100;
    }

    private static int Number(SafeFileHandle? handle) => handle is null ? AtFdCwd : (int)handle.DangerousGetHandle();

    private static SafeFileHandle Opened(int number, string path) =>
        number >= 0 ? new SafeFileHandle(number, ownsHandle: true) : throw Error(Marshal.GetLastPInvokeError(), path);

    /// <summary>
    /// Writes everything that a file system holds back to its disk, files and folders. Source: syncfs(2); errors are told since Linux 5.8.
    /// </summary>
    public static void FlushAll(SafeFileHandle folder, string path)
    {
        if (syncfs(Number(folder)) != 0)
        {
            throw Error(Marshal.GetLastPInvokeError(), path);
        }
    }

    /// <summary>
    /// Lets a new, empty file share the blocks of another until one of both is written to. Source: ioctl_ficlone(2).
    /// </summary>
    /// <returns>Whether the file system does so.</returns>
    public static bool TryClone(SafeFileHandle to, SafeFileHandle from) => ioctl(Number(to), CloneFile, Number(from)) == 0;

    /// <summary>
    /// Gives an open file another name, in an open folder. Source: linkat(2) with AT_SYMLINK_FOLLOW.
    /// </summary>
    /// <returns>Whether the file system does so; it does not across disks.</returns>
    public static bool TryLink(SafeFileHandle file, SafeFileHandle folder, string name) =>
        linkat(AtFdCwd, ProcPath(file), Number(folder), name, AtSymlinkFollow) == 0;

    [LibraryImport("libc", SetLastError = true)]
    private static partial int syncfs(int file);

    [LibraryImport("libc", SetLastError = true)]
    private static partial int ioctl(int file, nuint request, nint value);

    [LibraryImport("libc", SetLastError = true, StringMarshalling = StringMarshalling.Utf8)]
    private static partial int linkat(int fromFolder, string from, int toFolder, string to, int flags);

    [LibraryImport("libc", SetLastError = true, StringMarshalling = StringMarshalling.Utf8)]
    private static partial int openat(int folder, string path, int flags, uint mode);

    [LibraryImport("libc", SetLastError = true, StringMarshalling = StringMarshalling.Utf8)]
    private static partial int statx(int folder, string path, int flags, uint mask, Span<byte> buffer);

    [LibraryImport("libc", SetLastError = true, StringMarshalling = StringMarshalling.Utf8)]
    private static partial int renameat2(int fromFolder, string from, int toFolder, string to, uint flags);

    [LibraryImport("libc", SetLastError = true, StringMarshalling = StringMarshalling.Utf8)]
    private static partial int unlinkat(int folder, string path, int flags);

    [LibraryImport("libc", SetLastError = true, StringMarshalling = StringMarshalling.Utf8)]
    private static partial int mkdirat(int folder, string path, uint mode);
}
