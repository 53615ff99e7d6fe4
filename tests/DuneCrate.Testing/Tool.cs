using System.Collections.Concurrent;
using System.Diagnostics;
using System.Globalization;
using System.Text.RegularExpressions;
using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Testing;

/// <summary>Runs Debian's reference tools: openexr (exrheader, exrinfo) and openimageio-tools (oiiotool).</summary>
public static class Tool
{
    private static readonly TimeSpan Patience = TimeSpan.FromMinutes(2);

    private static readonly ConcurrentDictionary<string, Lazy<byte[]>> Pictures = [];

    /// <summary>Runs a program and returns what it prints.</summary>
    public static string Run(string program, params string[] arguments)
    {
        (int exit, string output, string errors) = Start(program, arguments);
        string said = $"{errors} {output}";
        Assert.True(exit == 0, $"{program} {string.Join(' ', arguments)}: exit {exit} {said[..Math.Min(said.Length, 400)]}");
        return output;
    }

    /// <summary>The same of a program whose exit code is an answer.</summary>
    public static string RunAny(string program, params string[] arguments) => Start(program, arguments).Output;

    private static (int Exit, string Output, string Errors) Start(string program, string[] arguments)
    {
        var start = new ProcessStartInfo(program) { RedirectStandardOutput = true, RedirectStandardError = true };
        foreach (string argument in arguments)
        {
            start.ArgumentList.Add(argument);
        }

        using Process process = Process.Start(start)!;
        Task<string> errors = process.StandardError.ReadToEndAsync();
        Task<string> reading = process.StandardOutput.ReadToEndAsync();
        if (!process.WaitForExit(Patience))
        {
            process.Kill(entireProcessTree: true);
            Assert.Fail($"{program} {string.Join(' ', arguments)} did not end within {Patience.TotalSeconds:0} s");
        }

        process.WaitForExit();
        return (process.ExitCode, reading.Result, errors.Result);
    }

    public static string Oiio(params string[] arguments) => Run("oiiotool", arguments);

    /// <summary>
    /// A picture that oiiotool makes of nothing but numbers: made once in a run and written again where it is wanted again, since starting
    /// oiiotool takes half a second.
    /// </summary>
    public static void Picture(string file, params string[] made)
    {
        string kind = Path.GetExtension(file);
        byte[] bytes = Pictures
            .GetOrAdd(
                string.Join('\n', [kind, .. made]),
                _ => new Lazy<byte[]>(() =>
                {
                    Oiio([.. made, "-o", file]);
                    return File.ReadAllBytes(file);
                })
            )
            .Value;
        File.WriteAllBytes(file, bytes);
    }

    /// <summary>Statistics of a file that oiiotool writes and then reads again, by one start.</summary>
    public static Dictionary<string, ToolStats> StatsOfMade(string file, params string[] made) =>
        Parse(Oiio(["--info", "-v", "--stats", .. made, "-o", file, file]).Split("Reading ")[^1]);

    /// <summary>Statistics of a file's first subimage by channel name, as <c>oiiotool --stats</c> prints them.</summary>
    public static Dictionary<string, ToolStats> Stats(string file) => StatsOfAll(file)[file];

    /// <summary>The same of several files at once: starting oiiotool takes longer than reading a small picture.</summary>
    public static Dictionary<string, Dictionary<string, ToolStats>> StatsOfAll(params string[] files)
    {
        string[] texts = Oiio(["--info", "-v", "--stats", .. files]).Split("Reading ", StringSplitOptions.RemoveEmptyEntries);
        return texts.ToDictionary(t => t[..t.IndexOf('\n', StringComparison.Ordinal)].Trim(), Parse);
    }

    private static Dictionary<string, ToolStats> Parse(string text)
    {
        string[] names = Regex.Match(text, @"channel list: (.*)").Groups[1].Value.Split(',', StringSplitOptions.TrimEntries);
        names = [.. names.Select(n => n.Split(' ')[0])];
        double[] Line(string label) =>
            [
                .. Regex
                    .Match(text, $@"Stats {label}: ([^\n(]*)")
                    .Groups[1]
                    .Value.Split(' ', StringSplitOptions.RemoveEmptyEntries)
                    .Select(v => double.Parse(v, CultureInfo.InvariantCulture)),
            ];
        double[] min = Line("Min"),
            max = Line("Max"),
            mean = Line("Avg"),
            deviation = Line("StdDev"),
            nan = Line("NanCount"),
            inf = Line("InfCount");
        return names
            .Select((n, i) => (n, i))
            .ToDictionary(n => n.n, n => new ToolStats(min[n.i], max[n.i], mean[n.i], deviation[n.i], (long)nan[n.i], (long)inf[n.i]));
    }

    /// <summary>Samples of a small file by pixel.</summary>
    public static Dictionary<(int X, int Y), float[]> Samples(string file) =>
        Regex
            .Matches(Oiio("--dumpdata", file), @"Pixel \((-?\d+), (-?\d+)\): ([^\n]*)")
            .ToDictionary(
                m =>
                    (
                        int.Parse(m.Groups[1].Value, CultureInfo.InvariantCulture),
                        int.Parse(m.Groups[2].Value, CultureInfo.InvariantCulture)
                    ),
                m =>
                    m.Groups[3]
                        .Value.Split(' ', StringSplitOptions.RemoveEmptyEntries)
                        .Where(v => !v.StartsWith('('))
                        .Select(v => float.Parse(v, CultureInfo.InvariantCulture))
                        .ToArray()
            );
}

/// <summary>Statistics of a channel as oiiotool prints them: six decimals.</summary>
public sealed record ToolStats(double Min, double Max, double Mean, double StdDev, long Nan, long Inf)
{
    /// <summary>Whether ours are the same: 1e-6 relative, and half of the sixth decimal.</summary>
    public bool IsNear(SampleStatistics ours, double relative = 1e-6)
    {
        bool Near(double expected, double found) => Math.Abs(expected - found) <= relative * Math.Abs(expected) + 6e-7;
        return Near(Min, ours.Min)
            && Near(Max, ours.Max)
            && Near(Mean, ours.Mean)
            && Near(StdDev, ours.StdDev)
            && (Nan, Inf) == (ours.Nan, ours.Inf);
    }
}
