using System.Diagnostics;
using DuneCrate.Foundation.Frames;
using DuneCrate.Planning.Model;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.Bench.Trial;

/// <summary>A house with two thousand shots, one of which has a hundred thousand files.</summary>
internal static class ScaleTrials
{
    /// <summary>The yard answers, the large folder is checked, and another shot beside it in its usual time.</summary>
    public static async Task<(int, IReadOnlyCollection<string>)> RunAsync(string work, int shots, int files)
    {
        var wrong = new List<string>();
        using var server = new TrialServer(work);
        Plan plan = StandInPlan.Create("KP010", FrameSet.Parse("1001-1004"), 64, 36);
        Disk.Render(plan, Path.Combine(server.Renders, "KP010"), null, []);
        string large = Directory.CreateDirectory(Path.Combine(server.Renders, "LG010")).FullName,
            one = Directory.GetFiles(Path.Combine(server.Renders, "KP010"), "*.exr", SearchOption.AllDirectories)[0];
        for (int i = 0; i < files; i++)
        {
            File.Copy(one, Path.Combine(large, $"large.{i:000000}.exr"));
        }

        await server.FillAsync(
            Enumerable
                .Range(0, shots)
                .Select(i => StandInPlan.Create($"SH{i:0000}", FrameSet.Parse("1001-1004"), 64, 36))
                .Prepend(StandInPlan.Create("LG010", FrameSet.Single(1), 64, 36))
                .Prepend(plan)
        );
        await server.StartAsync();
        await server.PostAsync(
            "/KELP/LG010/receive",
            "?handler=Take",
            ("root", "renders"),
            ("folder", "LG010"),
            ("pixels", "false"),
            ("byContent", "false"),
            ("whole", "false")
        );
        long begun = Stopwatch.GetTimestamp();
        (int status, _) = await server.GetAsync("/");
        if (status != 200 || Stopwatch.GetElapsedTime(begun) > TimeSpan.FromSeconds(20))
        {
            wrong.Add($"the yard answers {status} after {Stopwatch.GetElapsedTime(begun).TotalSeconds:0.0} s");
        }

        await server.UntilAsync("/KELP/LG010/receive?handler=Progress", t => !t.Contains("Taking in", StringComparison.Ordinal), 900);
        await server.CheckAsync("KP010", 120);
        (int report, string text) = await server.GetAsync("/KELP/LG010/check?handler=Report");
        if (report != 200 || !text.Contains($"\"files\": {files}", StringComparison.Ordinal))
        {
            wrong.Add($"the report answers {report} and does not speak of {files} files");
        }

        return (shots + files, wrong);
    }
}
