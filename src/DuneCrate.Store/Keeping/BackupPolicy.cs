using System.Globalization;

namespace DuneCrate.Store.Keeping;

/// <summary>The backups that the application makes by itself: what they are called and how many are kept.</summary>
public static class BackupPolicy
{
    /// <summary>How many backups of each sort are kept; the oldest go first.</summary>
    public const int Kept = 7;

    private const string Daily = "daily-",
        Migration = "before-update-",
        Ending = ".backup";

    /// <summary>Name of the day's backup.</summary>
    public static string DailyName(DateTime at) => Daily + Stamp(at) + Ending;

    /// <summary>Name of the backup that is made before the database is brought up to date.</summary>
    public static string MigrationName(DateTime at) => Migration + Stamp(at) + Ending;

    /// <summary>Deletes the oldest beyond those that are kept.</summary>
    /// <returns>What was deleted.</returns>
    public static IReadOnlyList<string> Prune(string folder)
    {
        var gone = new List<string>();
        foreach (string sort in (string[])[Daily, Migration])
        {
            // The names hold the time, so that their order is that of their age.
            foreach (string file in Of(folder, sort).OrderDescending(StringComparer.Ordinal).Skip(Kept))
            {
                File.Delete(file);
                gone.Add(file);
            }
        }

        return gone;
    }

    /// <summary>When the newest backup was made, UTC, or null.</summary>
    public static DateTime? Newest(string folder) =>
        Of(folder, Daily).Concat(Of(folder, Migration)).Select(File.GetLastWriteTimeUtc).Select(t => (DateTime?)t).Max();

    private static IEnumerable<string> Of(string folder, string sort) =>
        Directory.Exists(folder) ? Directory.EnumerateFiles(folder, sort + "*" + Ending) : [];

    private static string Stamp(DateTime at) => at.ToString("yyyyMMdd'T'HHmmssfff'Z'", CultureInfo.InvariantCulture);
}
