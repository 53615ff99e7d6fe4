using System.Data.Common;
using DuneCrate.Core.Crates;
using DuneCrate.Core.Images;
using DuneCrate.Core.Storage;

namespace DuneCrate.Web.Jobs;

/// <summary>Why work failed, in words for people: what libraries say of themselves goes to the log.</summary>
public static class Failures
{
    /// <summary>What to say of a failure.</summary>
    /// <param name="what">What could not be done, as the beginning of a sentence.</param>
    /// <param name="e">Why.</param>
    public static string Words(string what, Exception e) =>
        e switch
        {
            CrateRefusedException or StorageException or DirectoryNotFoundException or FormatException => e.Message,
            ImageException image => $"{what}: {image.Reason}.",
            InsufficientMemoryException => $"{what}: {e.Message}.",
            UnauthorizedAccessException => $"{what}: a file or folder may not be opened; look at its permissions.",
            DbException or { InnerException: DbException } => $"{what}: the database could not be written. Is there room on its disk?",
            IOException when e.Message.Contains("is left in", StringComparison.Ordinal) => e.Message,
            IOException disk => $"{what}: {StorageException.DiskWords(disk)}.",
            _ => Unforeseen(what),
        };

    /// <summary>Whether the database's disk refused.</summary>
    public static bool IsDisk(Exception e) => e is DbException || e.InnerException is DbException;

    /// <summary>What to say of a failure that nobody foresaw.</summary>
    public static string Unforeseen(string what) => $"{what}. Why is in the server's log.";
}
