using System.Collections.Immutable;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Rebuild;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Naming;
using DuneCrate.Planning.Model;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.Bench;

/// <summary>Facts of very many files without the files: those of one rendered frame, under every path of a plan.</summary>
internal static class KnownFacts
{
    /// <summary>A plan of equal layers, and the facts of all its files.</summary>
    public static (Plan Plan, ImmutableDictionary<string, FileFacts> Facts) Make(string work, int layers, int perLayer)
    {
        string folder = Path.Combine(work, "known");
        Plan one = StandInPlan.Create("KP010", FrameSet.Single(1), 96, 54);
        Disk.Render(one with { Layers = [one.Layers[0] with { Outputs = [one.Layers[0].Outputs[0]] }] }, folder, null, []);
        FileFacts file = Disk.Facts(
            Directory.GetFiles(folder, "*.exr", SearchOption.AllDirectories)[0],
            new FactsRequest(FactsDepth.Pixels, RebuildRecipe.From(one.Layers[0]))
        );
        Plan plan = one with
        {
            Shot = one.Shot with { Frames = FrameSet.Range(1, perLayer) },
            Layers =
            [
                .. Enumerable
                    .Range(1, layers)
                    .Select(i => one.Layers[0] with { Name = $"layer_{i:000}", Outputs = [one.Layers[0].Outputs[0]] }),
            ],
        };
        return (
            plan,
            PlannedOutput
                .From(plan)
                .SelectMany(o => o.Frames.Select(f => file with { Path = o.Name.At(f) }))
                .ToImmutableDictionary(f => f.Path)
        );
    }

    /// <summary>The facts as an intake has them.</summary>
    public static IntakeResult Intake(string work, ImmutableDictionary<string, FileFacts> facts) =>
        new(
            Disk.Folder(work),
            FactsDepth.Pixels,
            DateTime.UtcNow,
            SequenceFinder.Find(facts.Keys),
            facts,
            ImmutableDictionary<(string, int), RebuildFacts>.Empty
        );
}
