using System.Diagnostics;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Rebuild;
using DuneCrate.Foundation.Frames;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Listing;
using DuneCrate.Imaging.Pictures;
using DuneCrate.Imaging.Stacking;
using DuneCrate.Planning.Model;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.Bench;

/// <summary>
/// Test composites of eight strips at 1920 × 1080, of files that oiiotool wrote; and what causes cost a check. Goals: a frame within 150 ms
/// warm, a changed opacity within 80 ms, a range five times as fast as oiiotool folds it, causes at most 3 % of a check.
/// </summary>
internal static class StackBench
{
    private const int Width = 1920,
        Height = 1080,
        Strips = 8,
        Frames = 24,
        Runs = 15;

    public static void Run(string work)
    {
        string folder = Directory.CreateDirectory(Path.Combine(work, "stack")).FullName;
        StackRecipe recipe = Write(folder);
        var compositor = new StackCompositor(recipe, Disk.Folder(folder), ReadLimits.Default) { Bands = Environment.ProcessorCount };
        Console.WriteLine($"Composite of {Strips} strips, {Width} × {Height}, half R G B A, zip");
        Say("a frame out of its files", () => compositor.Make(1, default));
        StripPixels[] kept =
        [
            .. recipe.Strips.Select(s => StripPixels.Read(s, Disk.Folder(folder), 1, Width, Height, 1, ReadLimits.Default, default)),
        ];
        Say("a frame of kept strips, as PNG", () => Show(recipe, kept, 1));
        StripPixels[] small =
        [
            .. recipe.Strips.Select(s => StripPixels.Read(s, Disk.Folder(folder), 1, Width, Height, 2, ReadLimits.Default, default)),
        ];
        Say("the same as the page shows it, half as wide", () => Show(recipe, small, 2));
        Range(folder, recipe);
        Causes(Path.Combine(work, "causes"));
    }

    private static void Show(StackRecipe recipe, StripPixels[] kept, int shrink)
    {
        StackRecipe changed = recipe.Changed(3, s => s with { Opacity = 0.4 });
        StackedFrame made = StackCompositor
            .OfKept(changed, shrink, s => kept[Array.IndexOf(changed.Strips, s)], ReadLimits.Default)
            .Make(1, default);
        PictureMaker.Render(made.ToPixels(), new PictureSettings()).ToPng(isPacked: false);
    }

    /// <summary>Layers of the stand-in, four times as wide and high, written by oiiotool.</summary>
    private static StackRecipe Write(string folder)
    {
        Plan plan = StandInPlan.Create("KP010", FrameSet.Range(1001, 1000 + Frames), Width / 4, Height / 4);
        string source = Path.Combine(folder, "source");
        Disk.Render(plan, source, null, []);
        string[] layers = ["sub", "kelp", "sub", "kelp", "sub", "kelp", "sub"];
        for (int frame = 1; frame <= Frames; frame++)
        {
            Make("seabed", frame, frame, 0);
            foreach ((int i, string layer) in layers.Index())
            {
                Make(layer, frame, 1 + (frame + i) % Frames, i + 1);
            }
        }

        void Make(string layer, int frame, int from, int strip) =>
            Timed.Run(
                "oiiotool",
                [
                    Path.Combine(source, layer, $"KP010_{layer}.{1000 + from}.exr"),
                    .. layer == "seabed" ? new[] { "--ch", "R,G,B,A=1" } : ["--ch", "R,G,B,A"],
                    "--resize:filter=triangle",
                    $"{Width}x{Height}",
                    "-d",
                    "half",
                    "--compression",
                    "zip",
                    "-o",
                    Path.Combine(folder, $"s{strip}.{frame:0000}.exr"),
                ]
            );
        return StackRecipe.Read(
            $$"""
            { "schema": "dune-crate.stack/1", "width": {{Width}}, "height": {{Height}}, "frames": "1-{{Frames}}", "strips": [
              {{string.Join(
                ",\n",
                Enumerable
                    .Range(0, Strips)
                    .Select(i =>
                        $$"""
                        { "name": "s{{i}}", "source": "s{{i}}.####.exr", "channels": ["R", "G", "B", "A"],
                          "alpha": "premultiplied", "operation": "{{(i % 3 == 2 ? "plus" : "over")}}" }
                        """
                    )
            )}} ] }
            """
        );
    }

    /// <summary>The range by our command line and frame by frame by oiiotool, to the same files.</summary>
    private static void Range(string folder, StackRecipe recipe)
    {
        string path = Path.Combine(folder, "recipe.json"),
            ours = Path.Combine(folder, "ours"),
            theirs = Directory.CreateDirectory(Path.Combine(folder, "theirs")).FullName;
        File.WriteAllText(path, recipe.Write());
        Timed Ours() => PixelBench.Dune("stack", path, "--from", folder, "--to", Path.Combine(ours, "o.####.exr"));
        Timed Theirs()
        {
            long begun = Stopwatch.GetTimestamp();
            (double most, double spent) = (0, 0);
            for (int frame = 1; frame <= Frames; frame++)
            {
                var arguments = new List<string> { Path.Combine(folder, $"s0.{frame:0000}.exr") };
                for (int i = 1; i < Strips; i++)
                {
                    // The strip first: oiiotool lays the first picture over the second.
                    arguments.AddRange(
                        i % 3 == 2
                            ? [Path.Combine(folder, $"s{i}.{frame:0000}.exr"), "--add"]
                            : [Path.Combine(folder, $"s{i}.{frame:0000}.exr"), "--swap", "--over"]
                    );
                }

                arguments.AddRange(["-d", "float", "--compression", "zip", "-o", Path.Combine(theirs, $"o.{frame:0000}.exr")]);
                Timed one = Timed.Run("oiiotool", arguments);
                (most, spent) = (Math.Max(most, one.PeakMebibytes), spent + one.Processor);
            }

            return new Timed(Stopwatch.GetElapsedTime(begun).TotalSeconds, most, spent);
        }

        (Timed a, Timed b) = Timed.Side(Ours, Theirs, 3);
        Console.WriteLine(
            $"  {Frames} frames to float EXR: {a.Seconds:0.00} s at {a.PeakMebibytes:0} MiB, oiiotool {b.Seconds:0.00} s at "
                + $"{b.PeakMebibytes:0} MiB: {b.Seconds / a.Seconds:0.0} ×"
        );
    }

    /// <summary>Frames whose light passes do not sum, every pixel read, with the cause looked for and without.</summary>
    private static void Causes(string folder)
    {
        Plan plan = BenchFrames.Plan(2);
        string[] files = BenchFrames.Write(plan, folder);
        LayerPlan layer = plan.Layers[0];
        RebuildRecipe sums = RebuildRecipe.From(layer)!;
        RebuildRecipe off = RebuildRecipe.From(layer with { Rebuild = [.. layer.Rebuild[..^1], layer.Rebuild[^2]] })!;
        double Read(RebuildRecipe recipe)
        {
            var request = new FactsRequest(FactsDepth.Pixels, recipe);
            long begun = Stopwatch.GetTimestamp();
            foreach (string file in files)
            {
                FactsReader.Read(FolderListing.OfFile(Disk.File(file), Path.GetFileName(file))!, request, ReadLimits.Default, default);
            }

            return Stopwatch.GetElapsedTime(begun).TotalMilliseconds / files.Length;
        }

        Read(sums);
        Read(off);
        (double Sums, double Off)[] pairs = [.. Enumerable.Range(0, Runs).Select(_ => (Read(sums), Read(off)))];
        double clean = pairs.Select(p => p.Sums).Order().ElementAt(Runs / 2),
            spoiled = pairs.Select(p => p.Off).Order().ElementAt(Runs / 2);
        Console.WriteLine(
            $"Every pixel of a frame that sums {clean:0} ms, of one where a term is another's {spoiled:0} ms: the cause costs "
                + $"{100 * (spoiled / clean - 1):0.0} %"
        );
    }

    private static void Say(string what, Action make)
    {
        make();
        double[] times =
        [
            .. Enumerable
                .Range(0, Runs)
                .Select(_ =>
                {
                    long begun = Stopwatch.GetTimestamp();
                    make();
                    return Stopwatch.GetElapsedTime(begun).TotalMilliseconds;
                })
                .Order(),
        ];
        Console.WriteLine($"  {what, -44} median {times[Runs / 2], 5:0} ms   worst {times[^1], 5:0} ms");
    }
}
