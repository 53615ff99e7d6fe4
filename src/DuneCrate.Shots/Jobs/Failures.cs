using System.Data.Common;
using DuneCrate.Crates;
using DuneCrate.Exr;
using DuneCrate.Foundation.Storage;
using Microsoft.Data.Sqlite;

namespace DuneCrate.Shots.Jobs;

/// <summary>Why work failed, in words for people: what libraries say of themselves goes to the log.</summary>
public static class Failures
{
    /// <summary>What to say of a failure.</summary>
    /// <param name="what">What could not be done, as the beginning of a sentence.</param>
    /// <param name="e">Why.</param>
    public static string Words(string what, Exception e) => Known(what, e) ?? Unforeseen(what);

    /// <summary>Whether a failure is one that is told in words of its own; any other goes to the log.</summary>
    public static bool IsForeseen(Exception e) => Known("", e) is not null;

    private static string? Known(string what, Exception e) =>
        e switch
        {
            CrateRefusedException or CrateLeftBehindException or StorageException or DirectoryNotFoundException or FormatException =>
                e.Message,
            ImageException image => $"{what}: {image.Reason}.",
            InsufficientMemoryException => $"{what}: {e.Message}.",
            UnauthorizedAccessException => $"{what}: a file or folder may not be opened; look at its permissions.",
            DbException or { InnerException: DbException } => $"{what}: the database could not be written. Is there room on its disk?",
            IOException disk => $"{what}: {StorageException.DiskWords(disk)}.",
            _ => null,
        };

    /// <summary>Whether a disk, of files or of the database, has no room left.</summary>
    public static bool IsFullDisk(Exception? e) =>
        e switch
        {
            null => false,
            SqliteException sqlite => sqlite.SqliteErrorCode == SQLitePCL.raw.SQLITE_FULL,
            IOException disk when StorageException.IsFull(disk) => true,
            _ => IsFullDisk(e.InnerException),
        };

    /// <summary>Whether the database's disk refused.</summary>
    public static bool IsDisk(Exception e) => e is DbException || e.InnerException is DbException;

    /// <summary>What to say of a failure that nobody foresaw.</summary>
    public static string Unforeseen(string what) => $"{what}. Why is in the server's log.";
}
