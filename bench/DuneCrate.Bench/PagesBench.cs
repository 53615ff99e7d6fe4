using System.Diagnostics;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Planning.Edits;
using DuneCrate.Core.Planning.Model;
using DuneCrate.Store;
using Microsoft.Extensions.DependencyInjection;

namespace DuneCrate.Bench;

/// <summary>
/// Every page of a shot of 100 outputs × 500 frames whose 50,000 files lie on the disk: the first answer after a start and the median of
/// ten more, with its size. Goals: under 200 ms and 300 KB warm.
/// </summary>
internal static class PagesBench
{
    private const int Layers = 20,
        Frames = 500,
        Warm = 10;
    private const string Shot = "KP910";

    private static readonly string[] Pages =
    [
        "/",
        "/KELP/summary",
        "/KELP/settings",
        "/KELP/archive",
        .. (
            "plan plan/scene plan/roles plan/ids plan/files plan/settings plan/estimate plan/preflight plan/versions plan/print receive "
            + "check look stack crate"
        )
            .Split(' ')
            .Select(p => $"/KELP/{Shot}/{p}"),
    ];

    public static async Task RunAsync(string work)
    {
        Plan plan = Large();
        Write(plan, Path.Combine(work, "renders", Shot));
        using BenchServer server = await BenchServer.StartAsync(
            work,
            plan,
            (services, shot) => services.GetRequiredService<ShowStore>().SetFolderAsync(shot.Id, "renders", Shot)
        );
        using var client = new HttpClient { BaseAddress = new Uri(server.Address), Timeout = TimeSpan.FromMinutes(5) };
        await CheckAsync(client);
        Console.WriteLine(
            $"Pages of a shot of {PlannedOutput.From(plan).Length} outputs × {Frames} frames "
                + "(goal: under 200 ms and 300 KB; the first answers: each page's first after the check)"
        );
        foreach (string page in Pages)
        {
            double first = await TimeAsync(client, page);
            var times = new List<double>();
            for (int i = 0; i < Warm; i++)
            {
                times.Add(await TimeAsync(client, page));
            }

            times.Sort();
            int bytes = (await client.GetByteArrayAsync(page)).Length;
            Console.WriteLine(
                $"  {page, -24} first {first, 6:0} ms   median {times[Warm / 2], 5:0} ms   worst {times[^1], 5:0} ms   {bytes / 1000, 5} KB"
                    + (times[Warm / 2] > 200 || bytes > 300_000 ? "   MISSED" : "")
            );
        }
    }

    private static async Task<double> TimeAsync(HttpClient client, string page)
    {
        long start = Stopwatch.GetTimestamp();
        (await client.GetAsync(page)).EnsureSuccessStatusCode();
        return Stopwatch.GetElapsedTime(start).TotalMilliseconds;
    }

    /// <summary>Asks for a check as the page's button does, and waits for its end.</summary>
    private static async Task CheckAsync(HttpClient client)
    {
        string page = await client.GetStringAsync($"/KELP/{Shot}/receive");
        string token = page.Split("name=\"__RequestVerificationToken\" type=\"hidden\" value=\"")[1].Split('"')[0];
        using var form = new FormUrlEncodedContent([new("__RequestVerificationToken", token), new("pixels", "false")]);
        (await client.PostAsync($"/KELP/{Shot}/receive?handler=Check", form)).EnsureSuccessStatusCode();
        for (int i = 0; i < 600; i++)
        {
            await Task.Delay(500);
            if ((await client.GetStringAsync($"/KELP/{Shot}/check")).Contains("50,000 files,", StringComparison.Ordinal))
            {
                return;
            }
        }

        throw new InvalidOperationException("The check did not end within five minutes.");
    }

    /// <summary>One small frame an output, under the names of all frames: a header check reads no pixels.</summary>
    private static void Write(Plan plan, string folder)
    {
        Disk.Render(plan with { Shot = plan.Shot with { Frames = FrameSet.Single(1001) } }, folder, null, []);
        foreach (PlannedOutput output in PlannedOutput.From(plan))
        {
            byte[] frame = File.ReadAllBytes(Path.Combine(folder, output.Name.At(1001)));
            foreach (int number in output.Frames.Where(f => f != 1001))
            {
                File.WriteAllBytes(Path.Combine(folder, output.Name.At(number)), frame);
            }
        }
    }

    private static Plan Large()
    {
        var plan = new Plan
        {
            Show = new ShowPlan { Code = "KELP", Name = "The Kelp Post" },
            Shot = new ShotPlan
            {
                Code = Shot,
                Frames = FrameSet.Range(1001, 1000 + Frames),
                Width = 32,
                Height = 18,
                Camera = "cam_main",
            },
        };
        for (int layer = 1; layer <= Layers; layer++)
        {
            string name = $"layer_{layer:00}";
            plan = new WriteCells([
                new CellText(name, "direct_diffuse", "half"),
                new CellText(name, "depth", "float own"),
                new CellText(name, "normal", "half own"),
                new CellText(name, "motion", "half own"),
                new CellText(name, "ao", "half own"),
            ]).Apply(new AddLayer(name).Apply(plan));
        }

        return plan;
    }
}
