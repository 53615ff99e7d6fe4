using System.Diagnostics;
using DuneCrate.Checking.Intake;
using DuneCrate.Foundation.Frames;
using DuneCrate.Planning.Model;
using DuneCrate.StandIns.Renderer;
using DuneCrate.Store;
using Microsoft.Extensions.DependencyInjection;

namespace DuneCrate.Bench;

/// <summary>
/// Header check from a warm disk: 5,000 files a second and more; the second check of an unchanged folder: 50,000 and more, from the facts
/// cache, whose size a million
/// files is worked out from what these take.
/// </summary>
internal static class HeaderBench
{
    private const int Files = 20_000;

    public static void Run(string work)
    {
        string folder = Path.Combine(work, "headers"),
            database = Path.Combine(work, "facts.db");
        Plan full = StandInPlan.Create("KP010", FrameSet.Range(1001, 1000 + Files), 64, 36);
        LayerPlan sub = full.Layers[0] with { Outputs = [full.Layers[0].Outputs[0] with { Padding = 5 }] };
        Plan plan = full with { Layers = [sub] };
        Disk.Render(plan, folder, FrameSet.Single(1001), []);
        string first = Path.Combine(folder, "sub", "KP010_sub.01001.exr");
        for (int frame = 1002; frame < 1001 + Files; frame++)
        {
            File.Copy(first, Path.Combine(folder, "sub", $"KP010_sub.{frame:00000}.exr"));
        }

        double best = Median(5, () => Disk.Check(folder, plan, FactsDepth.Header, new NoFactsCache()));
        Console.WriteLine($"Header check, {Files:N0} OpenEXR files of 25 channels, warm disk, plan and rules included");
        Console.WriteLine($"  in process, median of 5     {best, 8:0.000} s   {Files / best, 9:N0} files a second   (goal 5,000)");
        using (ServiceProvider services = new ServiceCollection().AddDuneCrateStore(database).BuildServiceProvider())
        {
            FactsStore store = services.GetRequiredService<FactsStore>();
            long start = Stopwatch.GetTimestamp();
            Disk.Check(folder, plan, FactsDepth.Header, store);
            store.Flush();
            double filling = Stopwatch.GetElapsedTime(start).TotalSeconds;
            var late = new AfterListing(store);
            double[] both = Medians(
                21,
                () => Disk.Check(folder, plan, FactsDepth.Header, late),
                () => Disk.Check(folder, plan, FactsDepth.Header, store)
            );
            (double after, double again) = (both[0], both[1]);
            Console.WriteLine($"  first check, facts kept     {filling, 8:0.000} s   {Files / filling, 9:N0} files a second");
            Console.WriteLine($"  the same, known after listed {after, 7:0.000} s   {Files / after, 9:N0} files a second");
            Ledger.Note("second check of an unchanged folder of 20,000", Files / again, "files/s", 50_000);
            Console.WriteLine($"  second check, unchanged     {again, 8:0.000} s   {Files / again, 9:N0} files a second   (goal 50,000)");
        }

        double bytes = Directory.GetFiles(work, "facts.db*").Sum(f => new FileInfo(f).Length);
        Console.WriteLine(
            $"  facts of a million files    {bytes / Files * 1e6 / 1e9, 8:0.000} GB at {bytes / Files:0} bytes each   (goal: under 1)"
        );
        File.WriteAllText(Path.Combine(folder, "plan.json"), PlanDocument.Write(plan));
        Timed whole = Timed
            .Side(
                () => PixelBench.Dune("check", folder, "--plan", Path.Combine(folder, "plan.json"), "--json", "-"),
                () => Timed.Run("true"),
                3
            )
            .A;
        Console.WriteLine(
            $"  whole command, cold start   {whole.Seconds, 8:0.000} s   {Files / whole.Seconds, 9:N0} files a second   peak "
                + $"{whole.PeakMebibytes:0} MiB"
        );
    }

    private static double Median(int runs, Action run) => Medians(runs, run)[0];

    /// <summary>Median seconds of each, in turn, the first round left out.</summary>
    private static double[] Medians(int runs, params Action[] some)
    {
        double[][] rounds =
        [
            .. Enumerable
                .Range(0, runs + 1)
                .Select(_ =>
                    some.Select(run =>
                        {
                            long start = Stopwatch.GetTimestamp();
                            run();
                            return Stopwatch.GetElapsedTime(start).TotalSeconds;
                        })
                        .ToArray()
                ),
        ];
        return [.. some.Select((_, i) => rounds.Skip(1).Select(r => r[i]).Order().ElementAt(runs / 2))];
    }
}
