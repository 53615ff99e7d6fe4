using System.Globalization;
using System.Text;
using System.Text.Json;

namespace DuneCrate.Bench;

/// <summary>
/// What <c>bench/run all</c> measured: ratios within the run, beside those of the last run that was recorded in <c>bench/last.json</c>.
/// What fell by more than a twentieth is marked. With <c>--record</c> its figures become the recorded ones, those of measures that were
/// left out stay, and the table in docs/performance.md is written anew.
/// </summary>
internal static class Ledger
{
    private const double Tolerated = 0.05;
    private const string Begin = "<!-- bench/run all -->",
        End = "<!-- end of bench/run all -->";

    private static readonly JsonSerializerOptions Options = new()
    {
        WriteIndented = true,
        PropertyNamingPolicy = JsonNamingPolicy.CamelCase,
    };
    private static readonly List<Entry> Noted = [];

    /// <summary>Notes a figure.</summary>
    /// <param name="what">What was measured, in words; the same in every run.</param>
    /// <param name="value">The figure.</param>
    /// <param name="unit">What it counts: × for a ratio.</param>
    /// <param name="goal">What it should be.</param>
    /// <param name="isMoreBetter">Whether a greater figure is the better one.</param>
    public static void Note(string what, double value, string unit, double goal, bool isMoreBetter = true) =>
        Noted.Add(new Entry(what, Math.Round(value, 3), unit, goal, isMoreBetter));

    /// <summary>Prints the table, and records it when asked.</summary>
    public static void Print(bool isRecorded)
    {
        string root = Path.GetDirectoryName(PixelBench.Command)!,
            kept = Path.Combine(root, "bench", "last.json");
        Entry[] last = File.Exists(kept) ? JsonSerializer.Deserialize<Entry[]>(File.ReadAllText(kept), Options)! : [];
        var table = new StringBuilder("| what | now | goal | last recorded | |\n| --- | --- | --- | --- | --- |\n");
        Entry[] all = [.. Noted, .. last.Where(l => isRecorded && Noted.All(n => n.What != l.What))];
        foreach (Entry now in all)
        {
            Entry? before = last.FirstOrDefault(l => l.What == now.What);
            double change =
                before is null ? 0
                : now.IsMoreBetter ? now.Value / before.Value - 1
                : before.Value / now.Value - 1;
            bool isHeld = now.IsMoreBetter ? now.Value >= now.Goal : now.Value <= now.Goal;
            string[] marks = [isHeld ? "" : "missed", change < -Tolerated ? $"**fell by {-change:P0}**" : ""];
            table.AppendLine(
                CultureInfo.InvariantCulture,
                $"| {now.What} | {Text(now, now.Value)} | {Text(now, now.Goal)} | {(before is null ? "" : Text(now, before.Value))} | "
                    + $"{string.Join(", ", marks.Where(m => m.Length > 0))} |"
            );
        }

        Console.WriteLine();
        Console.Write(table);
        if (isRecorded)
        {
            File.WriteAllText(kept, JsonSerializer.Serialize(all, Options) + "\n");
            string page = Path.Combine(root, "docs", "performance.md"),
                text = File.ReadAllText(page);
            int from = text.IndexOf(Begin, StringComparison.Ordinal) + Begin.Length,
                to = text.IndexOf(End, StringComparison.Ordinal);
            File.WriteAllText(page, $"{text[..from]}\n{table}{text[to..]}");
        }
    }

    private static string Text(Entry entry, double value) => string.Create(CultureInfo.InvariantCulture, $"{value:#,0.##} {entry.Unit}");

    private sealed record Entry(string What, double Value, string Unit, double Goal, bool IsMoreBetter);
}
