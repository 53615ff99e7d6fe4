using System.Diagnostics;
using System.Text.RegularExpressions;

namespace DuneCrate.Bench;

/// <summary>One run of a whole process.</summary>
/// <param name="Seconds">Wall time.</param>
/// <param name="PeakMebibytes">Greatest resident memory, as the kernel counts it.</param>
/// <param name="Processor">Processor time in seconds, as of some milliseconds before its end.</param>
internal sealed record Timed(double Seconds, double PeakMebibytes, double Processor)
{
    /// <summary>Runs a command, its output thrown away, and measures it from outside.</summary>
    public static Timed Run(string program, params IEnumerable<string> arguments)
    {
        var start = new ProcessStartInfo(program) { RedirectStandardOutput = true };
        foreach (string argument in arguments)
        {
            start.ArgumentList.Add(argument);
        }

        long begun = Stopwatch.GetTimestamp();
        using Process process = Process.Start(start)!;
        process.OutputDataReceived += (_, _) => { };
        process.BeginOutputReadLine();
        long peak = 0;
        TimeSpan processor = default;
        do
        {
            peak = Math.Max(peak, Peak(process.Id));
            processor = Spent(process, processor);
        } while (!process.WaitForExit(4));
        return process.ExitCode is 0 or 1
            ? new Timed(Stopwatch.GetElapsedTime(begun).TotalSeconds, peak / 1024.0, processor.TotalSeconds)
            : throw new InvalidOperationException($"{program} ended with {process.ExitCode}");
    }

    /// <summary>Runs two commands in turn, after one run of each that does not count; the medians.</summary>
    public static (Timed A, Timed B) Side(Func<Timed> a, Func<Timed> b, int runs)
    {
        a();
        b();
        var pairs = Enumerable.Range(0, runs).Select(_ => (A: a(), B: b())).ToArray();
        return (Median(pairs.Select(p => p.A)), Median(pairs.Select(p => p.B)));
    }

    private static Timed Median(IEnumerable<Timed> runs)
    {
        Timed[] all = [.. runs];
        return new Timed(Middle(r => r.Seconds), all.Max(r => r.PeakMebibytes), Middle(r => r.Processor));

        double Middle(Func<Timed, double> of) => all.Select(of).Order().ElementAt(all.Length / 2);
    }

    private static TimeSpan Spent(Process process, TimeSpan before)
    {
        try
        {
            process.Refresh();
            return process.HasExited ? before : process.TotalProcessorTime;
        }
        catch (Exception e) when (e is InvalidOperationException or System.ComponentModel.Win32Exception)
        {
            // It has ended in between.
            return before;
        }
    }

    private static long Peak(int process)
    {
        try
        {
            Match match = Regex.Match(File.ReadAllText($"/proc/{process}/status"), @"VmHWM:\s+(\d+)");
            return match.Success ? long.Parse(match.Groups[1].Value) : 0;
        }
        catch (IOException)
        {
            return 0;
        }
    }
}
