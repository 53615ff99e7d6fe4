using System.Diagnostics;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Reports;
using DuneCrate.Crates;
using DuneCrate.Crates.Recipes;
using DuneCrate.Planning.Model;

namespace DuneCrate.Bench;

/// <summary>
/// What sealing takes, up to the reading back of the whole: copying beside cp, conversions beside the same by oiiotool, on frames of 32
/// channels at 1920 × 1080. Every file is hashed and held against the check, and what is made is unpacked again; cp and
/// oiiotool do none of it. Goals: copying at 0.8 of cp, splitting and merging 5 times, windows and compression 3 times as fast as oiiotool.
/// </summary>
internal static class CrateBench
{
    private const int Frames = 6,
        Runs = 3;

    public static void Run(string work, string only)
    {
        string whole = Path.Combine(work, "crate");
        Plan plan = BenchFrames.Plan(Frames);
        BenchFrames.Write(plan, whole);
        long bytes = Directory.GetFiles(whole, "*.exr", SearchOption.AllDirectories).Sum(f => new FileInfo(f).Length);
        Console.WriteLine($"Sealing {Frames} frames of 32 channels, 1920 × 1080, zip, {bytes >> 20} MiB, up to the reading back");
        (IntakeResult intake, CheckReport report) = Disk.Check(whole, plan, FactsDepth.Pixels);
        report = report with { Findings = [] };
        string to = Path.Combine(work, "sealed");

        Side("copy, beside cp", "{}", 0.8, () => Timed.Run("cp", "-r", Path.Combine(whole, "sub"), to));
        Side(
            "copy, beside tee and sha256sum",
            "{}",
            0.8,
            () => Timed.Run("sh", "-c", $"cd {whole}/sub && for f in *; do tee {to}/$f < $f | sha256sum > {to}/$f.sum; done")
        );
        Side("a file per pass, beside oiiotool", """{ "files": "per-pass", "compression": "zip" }""", 5, () => Split(plan, whole, to));
        Side(
            "content window, beside oiiotool",
            """{ "window": "content" }""",
            3,
            () => Oiio("--trim", "-o", Path.Combine(to, "trim.#.exr"))
        );
        Side(
            "zips, beside oiiotool",
            """{ "compression": "zips" }""",
            5,
            () => Oiio("--compression", "zips", "-o", Path.Combine(to, "zips.#.exr"))
        );

        string split = Path.Combine(work, "split");
        Split(plan, whole, split);
        Plan apart = plan with
        {
            Layers = [plan.Layers[0] with { Outputs = [plan.Layers[0].Outputs[0] with { Template = "{pass}.{frame}.exr" }] }],
        };
        (intake, report) = Disk.Check(split, apart, FactsDepth.Pixels);
        report = report with { Findings = [] };
        plan = apart;
        string[] passes = [.. apart.Layers[0].Passes.Select(p => Path.Combine(split, $"{PassPlan.WordOf(p.Pass)}.#.exr"))];
        Side(
            "one file per layer, beside oiiotool",
            """{ "files": "per-layer", "compression": "zip" }""",
            5,
            () =>
                Timed.Run(
                    "oiiotool",
                    [
                        "--frames",
                        Range,
                        passes[0],
                        .. passes[1..].SelectMany(p => new[] { p, "--chappend" }),
                        "-o",
                        Path.Combine(to, "one.#.exr"),
                    ]
                )
        );

        Timed Oiio(params string[] does) => Timed.Run("oiiotool", ["--frames", Range, Path.Combine(whole, "sub/KP010_sub.#.exr"), .. does]);

        void Side(string what, string recipe, double goal, Func<Timed> other)
        {
            if (!what.Contains(only, StringComparison.Ordinal))
            {
                return;
            }

            double[] ours = new double[Runs],
                theirs = new double[Runs];
            for (int i = -1; i < Runs; i++)
            {
                // Ours once more than theirs: the first time compiles.
                double own = Seal(plan, intake, report, recipe, Clean(work, "ours"));
                if (i >= 0)
                {
                    Clean(work, "sealed");
                    Directory.CreateDirectory(to);
                    (ours[i], theirs[i]) = (own, other().Seconds);
                }
            }

            (double a, double b) = (ours.Order().ElementAt(Runs / 2), theirs.Order().ElementAt(Runs / 2));
            Ledger.Note($"crate: {what}", b / a, "×", goal);
            Console.WriteLine($"  {what, -36} {a, 7:0.00} s   {b, 7:0.00} s   {b / a:0.0} times as fast");
        }
    }

    /// <summary>What a crate of 50,000 files will hold, worked out from known facts before anything is written.</summary>
    public static void Compose(string work)
    {
        (Plan plan, var facts) = KnownFacts.Make(work, layers: 25, perLayer: 2000);
        IntakeResult intake = KnownFacts.Intake(work, facts);
        foreach (string recipe in (string[])["{}", """{ "files": "per-pass", "compression": "zips", "firstFrame": 1001 }"""])
        {
            for (int run = 0; run < 3; run++)
            {
                long begun = Stopwatch.GetTimestamp();
                var contents = Disk.Contents(plan, intake, CrateLayouts.ByLayer, CrateRecipe.Read(recipe));
                Console.WriteLine(
                    $"Composing {facts.Count:N0} rendered files to {contents.Files:N0}, {(run == 0 ? "cold" : "warm")}: "
                        + $"{Stopwatch.GetElapsedTime(begun).TotalSeconds:0.00} s"
                );
            }
        }
    }

    private static string Range => $"1001-{1000 + Frames}";

    /// <summary>Seconds from the beginning until the last file is made.</summary>
    private static double Seal(Plan plan, IntakeResult intake, CheckReport report, string recipe, string to)
    {
        var contents = Disk.Contents(plan, intake, CrateLayouts.ByLayer, CrateRecipe.Read(recipe));
        long begun = Stopwatch.GetTimestamp(),
            ended = begun;
        var progress = new Told(p => ended = p.Doing == "copying" ? Stopwatch.GetTimestamp() : ended);
        CrateBuilder.Seal(contents, report, Disk.Folder(to), Guid.NewGuid(), progress, default);
        return Stopwatch.GetElapsedTime(begun, ended).TotalSeconds;
    }

    /// <summary>A file per pass by one oiiotool, all frames in one process.</summary>
    private static Timed Split(Plan plan, string from, string to)
    {
        Directory.CreateDirectory(to);
        var does = new List<string> { "--frames", Range, Path.Combine(from, "sub/KP010_sub.#.exr"), "--label", "all" };
        foreach (PassPlan pass in plan.Layers[0].Passes)
        {
            does.AddRange([
                "all",
                "--ch",
                string.Join(',', pass.Channels.Keys),
                "-o",
                Path.Combine(to, $"{PassPlan.WordOf(pass.Pass)}.#.exr"),
            ]);
        }

        return Timed.Run("oiiotool", does);
    }

    private static string Clean(string work, string name)
    {
        string folder = Path.Combine(work, name);
        if (Directory.Exists(folder))
        {
            Directory.Delete(folder, recursive: true);
        }

        return folder;
    }

    private sealed class Told(Action<CrateProgress> tell) : IProgress<CrateProgress>
    {
        public void Report(CrateProgress value) => tell(value);
    }
}
