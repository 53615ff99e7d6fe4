namespace DuneCrate.Bench.Trial;

/// <summary>What the trial found, a line for each attack, printed as it goes.</summary>
internal sealed class TrialTable
{
    private readonly List<(string Attack, int Tried, string[] Wrong, double Seconds)> _rows = [];

    /// <summary>Whether everything held.</summary>
    public bool Held => _rows.All(r => r.Wrong.Length == 0);

    /// <summary>Runs an attack and notes what it found.</summary>
    /// <param name="attack">What is done, in words.</param>
    /// <param name="run">Does it; gives how often, and what was lost, left over or out of place.</param>
    public async Task RunAsync(string attack, Func<Task<(int Tried, IReadOnlyCollection<string> Wrong)>> run)
    {
        Console.Error.WriteLine($"  … {attack}");
        long start = System.Diagnostics.Stopwatch.GetTimestamp();
        (int tried, IReadOnlyCollection<string> wrong) = (0, []);
        try
        {
            (tried, wrong) = await run();
        }
        catch (Exception e)
        {
            wrong = [$"the trial itself ended: {e.GetType().Name} {e.Message}"];
        }

        _rows.Add((attack, tried, [.. wrong], System.Diagnostics.Stopwatch.GetElapsedTime(start).TotalSeconds));
        Print(_rows[^1]);
    }

    /// <summary>Prints the heads.</summary>
    public static void PrintHeads() => Console.WriteLine($"  {"attack", -62} {"times", 8} {"wrong", 6} {"seconds", 8} {"peak MiB", 9}");

    private static void Print((string Attack, int Tried, string[] Wrong, double Seconds) row)
    {
        Console.WriteLine(
            $"  {row.Attack, -62} {row.Tried, 8:N0} {row.Wrong.Length, 6:N0} {row.Seconds, 8:0.0} {TrialServer.TakePeak(), 9:0}"
        );
        foreach (string wrong in row.Wrong.Take(5))
        {
            Console.WriteLine($"      {wrong[..Math.Min(wrong.Length, 600)]}");
        }
    }
}
