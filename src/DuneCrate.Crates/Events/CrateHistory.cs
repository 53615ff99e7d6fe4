using System.Collections.Immutable;
using System.Text.Json;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.History;
using DuneCrate.Foundation.Storage;

namespace DuneCrate.Crates.Events;

/// <summary>
/// What happened to a crate, as JSON lines each with the hash of the one before. Up to its sealing they lie in it; since nothing that is
/// sealed is ever changed, what happens later goes on in a file beside it, whose first line follows the last one within.
/// </summary>
public static class CrateHistory
{
    /// <summary>Name of the file in a crate.</summary>
    public const string FileName = "history.jsonl";

    private const long MostBytes = 16L << 20;

    private static readonly Lock Writing = new();

    /// <summary>The file beside a crate: <c>KP010_crate_v001.history.jsonl</c>.</summary>
    public static StoragePath Beside(StoragePath crate)
    {
        string name = Path.GetFileName(crate.FullPath);
        StoragePath parent = crate.Relative.Length > 0 ? crate.Parent : StorageRoot.At(Path.GetDirectoryName(crate.FullPath)!).Top;
        return parent.At($"{name}.{FileName}");
    }

    /// <summary>The lines of things done one after the other, the first of all first.</summary>
    public static string Begin(params ReadOnlySpan<(DateTime At, string By, string Did, string What)> deeds)
    {
        var text = new System.Text.StringBuilder();
        string before = HistoryChain.First;
        for (int i = 0; i < deeds.Length; i++)
        {
            string line = new CrateEvent(i + 1, deeds[i].At, deeds[i].By, deeds[i].Did, deeds[i].What, before).Line;
            text.Append(line).Append('\n');
            before = CrateEvent.HashOf(line);
        }

        return text.ToString();
    }

    /// <summary>Writes down that something was done with a crate, in the file beside it.</summary>
    /// <exception cref="IOException">The disk refuses.</exception>
    public static void Add(StoragePath crate, DateTime at, string by, string did, string what)
    {
        lock (Writing)
        {
            StoragePath beside = Beside(crate);
            string later = TextOf(beside),
                last = (TextOf(crate.At(FileName)) + later).TrimEnd('\n').Split('\n')[^1];
            int number = last.Length == 0 ? 1 : (Read(last)?.Number ?? 0) + 1;
            string before = last.Length == 0 ? HistoryChain.First : CrateEvent.HashOf(last);
            beside.ReplaceText(later + new CrateEvent(number, at, by, did, what, before).Line + "\n");
        }
    }

    /// <summary>Takes away what a kill in the midst of <see cref="Add"/> left beside crates.</summary>
    /// <exception cref="IOException">The disk refuses.</exception>
    public static void Sweep(StoragePath crates)
    {
        lock (Writing)
        {
            HalfWritten.Sweep(crates, name => name.EndsWith($".{FileName}", StringComparison.Ordinal));
        }
    }

    /// <summary>Everything that is known of a crate, oldest first, and what is wrong with the chain; null when it holds.</summary>
    public static (ImmutableArray<CrateEvent> Events, string? Problem) Of(StoragePath crate)
    {
        var events = ImmutableArray.CreateBuilder<CrateEvent>();
        string before = HistoryChain.First;
        string[] lines;
        try
        {
            lines = (TextOf(crate.At(FileName)) + TextOf(Beside(crate))).Split('\n', StringSplitOptions.RemoveEmptyEntries);
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException or FormatException)
        {
            return ([], $"its history {StorageException.ReasonOf(e)}");
        }

        foreach (string line in lines)
        {
            if (Read(line) is not { } read)
            {
                return (events.ToImmutable(), $"line {events.Count + 1} of its history cannot be read");
            }

            if (read.Before != before || read.Number != events.Count + 1)
            {
                return (events.ToImmutable(), $"line {events.Count + 1} of its history does not follow the one before it");
            }

            events.Add(read);
            before = CrateEvent.HashOf(line);
        }

        return (events.ToImmutable(), null);
    }

    private static string TextOf(StoragePath path) => path.IsThere ? path.ReadText(MostBytes) : "";

    private static CrateEvent? Read(string line)
    {
        try
        {
            return JsonSerializer.Deserialize(line, CrateJson.Ahead.Of<CrateEvent>());
        }
        catch (JsonException)
        {
            return null;
        }
    }
}
