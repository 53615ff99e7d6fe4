using System.Diagnostics;
using System.Globalization;
using System.Text.RegularExpressions;

namespace DuneCrate.Core.Tests;

/// <summary>Runs Debian's reference tools: openexr (exrheader, exrinfo) and openimageio-tools (oiiotool).</summary>
public static class Tool
{
    /// <summary>Runs a program and returns what it prints.</summary>
    public static string Run(string program, params string[] arguments)
    {
        var start = new ProcessStartInfo(program) { RedirectStandardOutput = true, RedirectStandardError = true };
        foreach (string argument in arguments)
        {
            start.ArgumentList.Add(argument);
        }

        using Process process = Process.Start(start)!;
        Task<string> errors = process.StandardError.ReadToEndAsync();
        string output = process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        Assert.True(process.ExitCode == 0, $"{program} {string.Join(' ', arguments)}: exit {process.ExitCode} {errors.Result} {output}");
        return output;
    }

    public static string Oiio(params string[] arguments) => Run("oiiotool", arguments);

    /// <summary>Statistics of a file's first subimage by channel name, as <c>oiiotool --stats</c> prints them.</summary>
    public static Dictionary<string, (double Min, double Max, double Mean, double StdDev, long Nan, long Inf)> Stats(string file)
    {
        string text = Oiio("--info", "-v", "--stats", file);
        string[] names = Regex.Match(text, @"channel list: (.*)").Groups[1].Value.Split(',', StringSplitOptions.TrimEntries);
        names = [.. names.Select(n => n.Split(' ')[0])];
        double[] Line(string label) => [.. Regex.Match(text, $@"Stats {label}: ([^\n(]*)").Groups[1].Value.Split(' ', StringSplitOptions.RemoveEmptyEntries).Select(v => double.Parse(v, CultureInfo.InvariantCulture))];
        double[] min = Line("Min"), max = Line("Max"), mean = Line("Avg"), deviation = Line("StdDev"), nan = Line("NanCount"), inf = Line("InfCount");
        return names.Select((n, i) => (n, i)).ToDictionary(n => n.n, n => (min[n.i], max[n.i], mean[n.i], deviation[n.i], (long)nan[n.i], (long)inf[n.i]));
    }

    /// <summary>Samples of a small file by pixel.</summary>
    public static Dictionary<(int X, int Y), float[]> Samples(string file) =>
        Regex.Matches(Oiio("--dumpdata", file), @"Pixel \((-?\d+), (-?\d+)\): ([^\n]*)").ToDictionary(
            m => (int.Parse(m.Groups[1].Value, CultureInfo.InvariantCulture), int.Parse(m.Groups[2].Value, CultureInfo.InvariantCulture)),
            m => m.Groups[3].Value.Split(' ', StringSplitOptions.RemoveEmptyEntries).Where(v => !v.StartsWith('(')).Select(v => float.Parse(v, CultureInfo.InvariantCulture)).ToArray());
}
