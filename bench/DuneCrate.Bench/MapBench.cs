using System.Collections.Immutable;
using System.Diagnostics;
using DuneCrate.Checking;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Reports;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Rules;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Model;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using Microsoft.Extensions.DependencyInjection;
using OpenQA.Selenium.Chrome;

namespace DuneCrate.Bench;

/// <summary>
/// The frame map of 100 lanes × 3,000 frames with 20,000 bad cells in the browser: first paint under 300 ms, 60 frames a second while it is
/// zoomed and panned. And a report over 200,000 files from facts that are known: under 5 s.
/// </summary>
internal static class MapBench
{
    private const int Lanes = 100,
        Frames = 3000,
        BadPerLane = 200,
        Warm = 15,
        Measured = 10;

    /// <summary>
    /// Once the page is at rest, zooms and pans by wheel in every animation frame for two seconds; the times between frames.
    /// </summary>
    private const string Drive = """
        const done = arguments[arguments.length - 1], canvas = document.querySelector('.lane .cells'),
          box = canvas.getBoundingClientRect(), gaps = [];
        let before, count = 0;
        function step(now) {
          gaps.push(now - before); before = now; count++;
          canvas.dispatchEvent(new WheelEvent('wheel', { 
            bubbles: true, cancelable: true, clientX: box.left + box.width * 0.4, 
            clientY: box.top + 5, deltaY: count % 60 < 30 ? -40 : 40, shiftKey: count % 120 >= 60 }));
          if (now - start < 2000) requestAnimationFrame(step); else done(gaps.slice(1));
        }
        let start;
        setTimeout(() => { start = before = performance.now(); requestAnimationFrame(step); }, 4000);
        """;

    /// <summary>How long the parts of the last navigation took.</summary>
    private const string Phases = """
        const n = performance.getEntriesByType('navigation')[0];
        return `${n.responseStart.toFixed(0)} ms, received ${n.responseEnd.toFixed(0)} ms, ` +
          `${(n.decodedBodySize / 1024).toFixed(0)} KiB, document read ${n.domInteractive.toFixed(0)} ms`;
        """;

    public static async Task RunAsync(string work)
    {
        Plan plan = Large();
        using BenchServer server = await BenchServer.StartAsync(
            work,
            plan,
            async (services, shot) =>
            {
                CheckStore checkStore = services.GetRequiredService<CheckStore>();
                CheckRow check = await checkStore.AddCheckAsync(shot.Id, pixels: true);
                await checkStore.SetCheckAsync(check.Id, JobState.Done, 0, Report(plan));
            }
        );
        using ChromeDriver driver = BenchBrowser.Start(work);
        try
        {
            Console.WriteLine(
                $"Frame map, {Lanes} lanes × {Frames:N0} frames, {Lanes * BadPerLane:N0} bad cells, in Chromium without a GPU"
            );
            double[] all = [.. Enumerable.Range(0, Warm + Measured).Select(_ => FirstPaint(driver, server.Address))];
            double[] paints = [.. all[Warm..].Order()];
            Console.WriteLine(
                $"  navigation to map painted  median {paints[paints.Length / 2], 5:0} ms   worst {paints[^1], 5:0} ms   (goal: "
                    + $"under 300; the very first, cold: {all[0]:0} ms)"
            );
            Console.WriteLine($"    of that answered {driver.ExecuteScript(Phases)}");
            double[] gaps =
            [
                .. ((System.Collections.ObjectModel.ReadOnlyCollection<object>)driver.ExecuteAsyncScript(Drive)!)
                    .Select(Convert.ToDouble)
                    .Order(),
            ];
            Console.WriteLine(
                $"  zoom and pan by wheel      {1000 / gaps.Average(), 5:0} frames a second, 95 % within "
                    + $"{gaps[gaps.Length * 95 / 100]:0.0} ms   (goal: 60)"
            );
        }
        finally
        {
            driver.Quit();
        }
    }

    private static double FirstPaint(ChromeDriver driver, string address)
    {
        driver.Navigate().GoToUrl($"{address}/KELP/KP900/check");
        return Convert.ToDouble(
            driver.ExecuteAsyncScript(
                """
                const done = arguments[arguments.length - 1];
                (function look() {
                  const map = document.getElementById('lanes');
                  map && map.dataset.painted ? done(Number(map.dataset.paintedAt)) : requestAnimationFrame(look); })();
                """
            )
        );
    }

    private static Plan Large()
    {
        var plan = new Plan
        {
            Show = new ShowPlan { Code = "KELP", Name = "The Kelp Post" },
            Shot = new ShotPlan
            {
                Code = "KP900",
                Frames = FrameSet.Range(1, Frames),
                Width = 96,
                Height = 54,
                Camera = "cam_main",
            },
        };
        for (int layer = 1; layer <= Lanes; layer++)
        {
            plan = new AddLayer($"layer_{layer:000}").Apply(plan);
        }

        return plan with
        {
            Layers = [.. plan.Layers.Select(l => l with { Outputs = [l.Outputs[0] with { Padding = 5 }] })],
        };
    }

    private static CheckReport Report(Plan plan)
    {
        var random = new Random(1);
        ImmutableArray<PlannedOutput> outputs = PlannedOutput.From(plan);
        ImmutableArray<Finding> findings =
        [
            .. outputs.SelectMany(o =>
                new[] { ("pixels.nonfinite", Severity.Blocker), ("files.size", Severity.Warning) }.Select(r => new Finding
                {
                    Rule = r.Item1,
                    Severity = r.Item2,
                    Output = o.Key,
                    Layer = o.Layer.Name,
                    Frames = FrameSet.From(Enumerable.Range(0, BadPerLane / 2).Select(_ => random.Next(1, Frames + 1))),
                    Expected = "finite numbers",
                    Found = "others",
                    Message = "Made up to measure on.",
                    Remedy = "None.",
                    RemedyKind = RemedyKind.Look,
                })
            ),
        ];
        return new CheckReport
        {
            Root = "/",
            Depth = FactsDepth.Pixels,
            Sequences =
            [
                .. outputs.Select(o => new SequenceSummary(o.Key, o.Layer.Name, o.Frames, FrameSet.Empty, 5, Frames, 1 << 20, 96, 54)),
            ],
            Findings = findings,
            Rerun = [],
            Summary = new CheckSummary(0, 0, 0, Lanes * Frames, 1 << 30, 1).Count(findings),
        };
    }

    /// <summary>A report over 200,000 files.</summary>
    public static void Judge(string work)
    {
        (Plan plan, ImmutableDictionary<string, FileFacts> facts) = KnownFacts.Make(work, layers: 100, perLayer: 2000);
        for (int run = 0; run < 3; run++)
        {
            long start = Stopwatch.GetTimestamp();
            IntakeResult intake = KnownFacts.Intake(work, facts);
            CheckReport report = FolderCheck.Judge(new CheckContext(plan, intake));
            Console.WriteLine(
                $"Report over {report.Summary.Files:N0} files from known facts, all rules, "
                    + $"{plan.Layers[0].Passes.Sum(p => p.Channels.Count)} channels each, {(run == 0 ? "cold" : "warm")}: "
                    + $"{Stopwatch.GetElapsedTime(start).TotalSeconds:0.0} s   (goal: under 5)"
            );
        }
    }
}
