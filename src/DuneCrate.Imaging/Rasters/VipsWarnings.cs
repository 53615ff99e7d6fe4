using System.Collections.Concurrent;
using NetVips;

namespace DuneCrate.Imaging.Rasters;

/// <summary>
/// What libvips says of damaged files: it would go to standard error, a line for each tile of each file. Findings say what is damaged; who
/// wants the library's own words gets each sort of sentence once.
/// </summary>
public static class VipsWarnings
{
    private const int Most = 200;

    // Not Info and Debug, in which it tells of its ordinary work.
    private const Enums.LogLevelFlags Warnings =
        Enums.LogLevelFlags.Error | Enums.LogLevelFlags.Critical | Enums.LogLevelFlags.Warning | Enums.LogLevelFlags.Message;

    private static readonly ConcurrentDictionary<string, bool> Said = new(StringComparer.Ordinal);

    // Kept here, or the collector would take it while the library still calls it.
    private static readonly Log.LogDelegate Hear = Take;

    /// <summary>Told each sort of warning once in the life of the process, from any thread; null where nobody wants to know.</summary>
    public static Action<string>? Told { get; set; }

    /// <summary>Takes the library's warnings, once before it is used.</summary>
    internal static void Listen() => Log.SetLogHandler("VIPS", Warnings, Hear);

    private static void Take(string domain, Enums.LogLevelFlags level, string message)
    {
        string sort = string.Concat(message.Select(c => char.IsAsciiDigit(c) ? '0' : c));
        if (Said.Count < Most && Said.TryAdd(sort, true))
        {
            Told?.Invoke(message);
        }
    }
}
