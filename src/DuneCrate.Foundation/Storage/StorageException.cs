namespace DuneCrate.Foundation.Storage;

/// <summary>A path that leads out of its root, is no regular file, or cannot be opened or changed; for people.</summary>
/// <param name="path">The path as people know it.</param>
/// <param name="reason">What is the matter with it, so that the path and it make a sentence.</param>
public sealed class StorageException(string path, string reason) : IOException($"{path} {reason}")
{
    /// <summary>The path.</summary>
    public string Path { get; } = path;

    /// <summary>What is the matter with it.</summary>
    public string Reason { get; } = reason;

    /// <summary>What is the matter with a file that could not be opened or changed, without its path.</summary>
    public static string ReasonOf(Exception e) =>
        e switch
        {
            StorageException known => known.Reason.TrimEnd('.'),
            FileNotFoundException or DirectoryNotFoundException => "is not there any more",
            UnauthorizedAccessException => "may not be opened; look at its permissions",
            IOException disk when IsFull(disk) => "does not fit: there is no room left on its disk",
            _ => "could not be read from its disk",
        };

    /// <summary>Why a disk refused, as the end of a sentence.</summary>
    public static string DiskWords(IOException e) =>
        e is StorageException ? e.Message.TrimEnd('.')
        : IsFull(e) ? "there is no room left on the disk"
        : "a disk does not answer as it should";

    /// <summary>Whether a disk has no room left, or a person no more of it. The framework hands the system's number on.</summary>
    public static bool IsFull(IOException e) => e.HResult is Posix.NoSpace or Posix.QuotaExceeded;
}
