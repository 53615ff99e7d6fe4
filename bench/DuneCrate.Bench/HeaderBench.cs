using DuneCrate.Core.Checks;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Intake;
using DuneCrate.Core.Planning;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.Bench;

/// <summary>Header check of 2,000 files, warm disk. Goal: at least 3,000 files a second.</summary>
internal static class HeaderBench
{
    private const int Files = 2000;

    public static void Run(string work)
    {
        string folder = Path.Combine(work, "headers");
        Plan full = StandInPlan.For("KP010", FrameSet.Range(1001, 1000 + Files), 64, 36);
        LayerPlan sub = full.Layers[0] with { Outputs = [full.Layers[0].Outputs[0]] };
        Plan plan = full with { Layers = [sub] };
        StandInRenderer.Render(plan, folder, FrameSet.Of(1001), []);
        string first = Path.Combine(folder, "sub", "KP010_sub.1001.exr");
        for (int frame = 1002; frame < 1001 + Files; frame++)
        {
            File.Copy(first, Path.Combine(folder, "sub", $"KP010_sub.{frame}.exr"));
        }

        double[] seconds = [.. Enumerable.Range(0, 7).Select(_ => FolderCheck.Run(folder, plan, FactsDepth.Header, new NoFactsCache()).Report.Summary.Seconds)];
        double best = seconds.Skip(2).Order().ElementAt(2);
        Console.WriteLine($"Header check, {Files:N0} OpenEXR files of 25 channels, warm disk, plan and rules included");
        Console.WriteLine($"  in process, median of 5     {best,8:0.000} s   {Files / best,9:N0} files a second   (goal 3,000)");
        File.WriteAllText(Path.Combine(folder, "plan.json"), PlanDocument.Write(plan));
        Timed whole = Timed.Side(() => PixelBench.Dune("check", folder, "--plan", Path.Combine(folder, "plan.json"), "--json", "-"), () => Timed.Run("true"), 3).A;
        Console.WriteLine($"  whole command, cold start   {whole.Seconds,8:0.000} s   {Files / whole.Seconds,9:N0} files a second   peak {whole.PeakMebibytes:0} MiB");
    }
}
