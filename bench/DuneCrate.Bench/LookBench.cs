using System.Diagnostics;
using DuneCrate.Core.Planning.Model;
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
    private const int Steps = 10;

    /// <summary>Asks for something by a key and measures until every tile in view of the new picture is drawn.</summary>
    private const string UntilDrawn = """
        const done = arguments[arguments.length - 1], [key, isStep] = arguments, canvas = document.getElementById('picture'),
          frame = document.getElementById('frame-now'), begun = performance.now(), before = canvas.dataset.drawn;
        document.body.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }));
        (function look() {
          const isThere = isStep ? canvas.dataset.shown.endsWith(frame.textContent) : canvas.dataset.drawn !== before;
          isThere && !document.querySelector('.shot').dataset.busy ? done(performance.now() - begun) : requestAnimationFrame(look); })();
        """;

    public static async Task RunAsync(string work)
    {
        await MeasureAsync(Path.Combine(work, "hd"), BenchFrames.Plan(Steps * 2 + 4), "1920 × 1080", isWhole: true);
        await MeasureAsync(Path.Combine(work, "8k"), BenchFrames.Plan(2, 7680, 4320), "7680 × 4320", isWhole: false);
    }

    private static async Task MeasureAsync(string work, Plan plan, string size, bool isWhole)
    {
        Directory.CreateDirectory(work);
        BenchFrames.Write(plan, Path.Combine(work, "renders", plan.Shot.Code), Path.Combine(work, "source"));
        using BenchServer server = await BenchServer.StartAsync(
            work,
            plan,
            (services, shot) => services.GetRequiredService<ShowStore>().SetFolderAsync(shot.Id, "renders", plan.Shot.Code)
        );
        using ChromeDriver driver = BenchBrowser.Start(work);
        try
        {
            // Another page first, so that scripts and the application's code are warm and only the picture is cold.
            driver.Navigate().GoToUrl($"{server.Address}/KELP/{plan.Shot.Code}/look?layer=sub&pass=beauty&frame=1002");
            Thread.Sleep(4000);
            long start = Stopwatch.GetTimestamp();
            driver.Navigate().GoToUrl($"{server.Address}/KELP/{plan.Shot.Code}/look?layer=sub&pass=beauty&frame=1001");
            driver.ExecuteAsyncScript(
                "const done = arguments[0]; (function look() { document.getElementById('picture')?.dataset.shown ? done() "
                    + ": requestAnimationFrame(look); })();"
            );
            Console.WriteLine($"Viewer, {size}: navigation to all tiles drawn {Stopwatch.GetElapsedTime(start).TotalMilliseconds:0} ms");
            Say("exposure", driver, "e", isStep: false);
            if (isWhole)
            {
                Say("step, the next one loaded ahead", driver, "ArrowRight", isStep: true);
            }
        }
        finally
        {
            driver.Quit();
        }
    }

    private static void Say(string what, ChromeDriver driver, string key, bool isStep)
    {
        var times = new List<double>();
        for (int i = 0; i < Steps; i++)
        {
            times.Add(Convert.ToDouble(driver.ExecuteAsyncScript(UntilDrawn, key, isStep)));
            Thread.Sleep(700);
        }

        times.Sort();
        Console.WriteLine($"  {what, -32} median {times[Steps / 2], 5:0} ms   worst {times[^1], 5:0} ms");
    }
}
