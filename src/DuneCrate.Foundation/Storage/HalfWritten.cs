using System.Diagnostics;

namespace DuneCrate.Foundation.Storage;

/// <summary>
/// The names under which <see cref="StoragePath.Replace"/> writes before a file takes its place, and what a kill in the midst of it leaves:
/// the file itself is as it was before.
/// </summary>
public static class HalfWritten
{
    private const string Ending = ".partial";

    private static readonly DateTime Begun = Process.GetCurrentProcess().StartTime.ToUniversalTime();

    /// <summary>Takes away what was left in a folder before this process began.</summary>
    /// <param name="folder">The folder.</param>
    /// <param name="isOf">Whether a file of this name is one whose rest may go.</param>
    /// <exception cref="IOException">The disk refuses.</exception>
    public static void Sweep(StoragePath folder, Func<string, bool> isOf)
    {
        foreach ((string name, FileStamp stamp) in folder.Entries().ToArray())
        {
            if (
                stamp.Kind == FileKind.Regular
                && stamp.Modified < Begun
                && name.StartsWith('.')
                && name.EndsWith(Ending, StringComparison.Ordinal)
                && isOf(name[1..^Ending.Length])
            )
            {
                folder.Below(name).Delete();
            }
        }
    }

    /// <summary>The name under which a file is written before it has its own.</summary>
    internal static string NameOf(string name) => $".{name}{Ending}";
}
