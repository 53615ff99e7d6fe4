using System.Diagnostics;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Pictures;
using DuneCrate.Planning.Model;
using DuneCrate.Store;
using Microsoft.Extensions.DependencyInjection;
using OpenQA.Selenium.Chrome;

namespace DuneCrate.Bench;

/// <summary>
/// The viewer in the browser: stepping and exposure at 1920 × 1080 with 32 channels, and the first view of 8K. Goals: a step within
/// 150 ms warm, exposure within 60 ms, an 8K picture in view within 500 ms cold.
/// </summary>
internal static class LookBench
{
    private const int Steps = 10,
        Times = 4,
        ProxyFrames = 100;

    /// <summary>Asks for something by a key and measures until every tile in view of the new picture is drawn.</summary>
    private const string UntilDrawn = """
        const done = arguments[arguments.length - 1], [key, isStep, shiftKey] = arguments, canvas = document.getElementById('picture'),
          frame = document.getElementById('frame-now'), begun = performance.now(), before = canvas.dataset.drawn;
        document.body.dispatchEvent(new KeyboardEvent('keydown', { key, shiftKey, bubbles: true }));
        const isThere = () => !document.querySelector('.shot').dataset.busy && (isStep ? canvas.dataset.shown.endsWith(frame.textContent)
            : shiftKey ? canvas.ariaBusy === 'false' : canvas.dataset.drawn !== before),
          look = new MutationObserver(() => { if (isThere()) { look.disconnect(); done(performance.now() - begun); } });
        look.observe(document.querySelector('.shot'), { attributes: true, subtree: true });
        if (shiftKey) requestAnimationFrame(() => requestAnimationFrame(() => isThere() && done(performance.now() - begun)));
        """;

    public static async Task RunAsync(string work)
    {
        await MeasureAsync(Path.Combine(work, "hd"), BenchFrames.Plan(Steps * 2 + 4), "1920 × 1080", isWhole: true);
        Plan large = BenchFrames.Plan(2, 7680, 4320, passes: "beauty depth");
        await MeasureAsync(Path.Combine(work, "8k"), large, "7680 × 4320", isWhole: false);
        Proxies(Path.Combine(work, "proxies"));
    }

    private static async Task MeasureAsync(string work, Plan plan, string size, bool isWhole)
    {
        Directory.CreateDirectory(work);
        BenchFrames.Write(plan, Path.Combine(work, "renders", plan.Shot.Code), Path.Combine(work, "source"), isWhole ? 1 : Times);
        using BenchServer server = await BenchServer.StartAsync(
            work,
            plan,
            (services, shot) => services.GetRequiredService<ShowStore>().SetFolderAsync(shot.Id, "renders", plan.Shot.Code)
        );
        using ChromeDriver driver = BenchBrowser.Start(work);
        try
        {
            // Another pass first, so that scripts and the application's code are warm, and neither the picture nor a proxy of it is there.
            driver.Navigate().GoToUrl($"{server.Address}/KELP/{plan.Shot.Code}/look?layer=sub&pass=depth&frame=1002");
            Thread.Sleep(4000);
            long start = Stopwatch.GetTimestamp();
            driver.Navigate().GoToUrl($"{server.Address}/KELP/{plan.Shot.Code}/look?layer=sub&pass=beauty&frame=1001");
            double asked = Convert.ToDouble(
                driver.ExecuteAsyncScript(
                    "const done = arguments[0]; (function look() { document.getElementById('picture')?.dataset.shown ? "
                        + "done(performance.now() - performance.getEntriesByType('resource').find(r => r.name.includes('/seen')).startTime)"
                        + " : requestAnimationFrame(look); })();"
                )
            );
            Console.WriteLine(
                $"Viewer, {size}: navigation to all tiles drawn {Stopwatch.GetElapsedTime(start).TotalMilliseconds:0} ms, "
                    + $"of it from the first question about the picture {asked:0} ms"
            );
            Say("exposure", driver, "e", isStep: false);
            if (!isWhole)
            {
                driver.ExecuteScript("document.getElementById('one').click()");
                Thread.Sleep(2500);
                Say("pan by a key at 1:1", driver, "ArrowRight", isStep: false, isShift: true);
            }
            else
            {
                Say("step, the next one loaded ahead", driver, "ArrowRight", isStep: true);
            }
        }
        finally
        {
            driver.Quit();
        }
    }

    private static void Say(string what, ChromeDriver driver, string key, bool isStep, bool isShift = false)
    {
        var times = new List<double>();
        for (int i = 0; i < Steps; i++)
        {
            times.Add(Convert.ToDouble(driver.ExecuteAsyncScript(UntilDrawn, key, isStep, isShift)));
            Thread.Sleep(700);
        }

        times.Sort();
        Console.WriteLine($"  {what, -32} median {times[Steps / 2], 5:0} ms   worst {times[^1], 5:0} ms");
    }

    /// <summary>Proxies of the beauty of many frames, against oiiotool shrinking and converting them one by one.</summary>
    private static void Proxies(string work)
    {
        string[] files = BenchFrames.Write(BenchFrames.Plan(ProxyFrames), work);
        string[] channels = ["R", "G", "B", "A"];
        string to = Directory.CreateDirectory(Path.Combine(work, "made")).FullName;
        long begun = Stopwatch.GetTimestamp();
        Parallel.ForEach(
            files,
            new ParallelOptions { MaxDegreeOfParallelism = Environment.ProcessorCount },
            file =>
            {
                using PictureLines lines = PictureLines.Open(Disk.File(file), "exr", channels, ReadLimits.Default, null);
                PicturePlanes planes = PicturePlanes.Read(lines, (int)(lines.Window.Width / 960), isMean: true, null, default);
                using FileStream made = File.Create(Path.Combine(to, Path.GetFileName(file) + ".planes"));
                PlanesFile.Write(made, planes, isLight: true);
            }
        );
        double ours = Stopwatch.GetElapsedTime(begun).TotalSeconds;
        begun = Stopwatch.GetTimestamp();
        foreach (string file in files)
        {
            Timed.Run(
                "oiiotool",
                [file, "--ch", "R,G,B,A", "--resize:filter=box", "960x540", "--tocolorspace", "sRGB", "-o", Path.Combine(to, "theirs.png")]
            );
        }

        double theirs = Stopwatch.GetElapsedTime(begun).TotalSeconds;
        Console.WriteLine(
            $"Proxies of {ProxyFrames} frames, 1920 × 1080 × 32 channels: {ours:0.0} s, "
                + $"oiiotool one by one {theirs:0.0} s: {theirs / ours:0.0} ×"
        );
    }
}
