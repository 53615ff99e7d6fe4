using System.Collections.Immutable;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Intake;
using DuneCrate.Core.Naming;
using DuneCrate.Core.Planning;

namespace DuneCrate.Core.Checks;

/// <summary>
/// Checks the first whole frame of a layer as soon as it is there: camera, size, channels, types, range. A mistake is seen after one frame and not after ten hours.
/// </summary>
public static class FirstFrameCheck
{
    /// <summary>The findings about one frame of one layer; nothing is said about the others.</summary>
    /// <param name="folder">The folder with the files.</param>
    /// <param name="plan">The plan.</param>
    /// <param name="layer">The layer.</param>
    /// <param name="frame">A frame of which every output has come.</param>
    /// <param name="cache">Remembers facts.</param>
    /// <param name="limits">Bounds on files.</param>
    /// <param name="cancel">Stops between files.</param>
    public static ImmutableArray<Finding> Run(string folder, Plan plan, string layer, int frame, IFactsCache cache, ReadLimits? limits = null, CancellationToken cancel = default)
    {
        Plan small = plan with
        {
            Layers =
            [
                .. plan.Layers.Where(l => l.Name == layer)
                    .Select(l => l with { Frames = FrameSet.Of(frame), Outputs = [.. l.Outputs.Select(o => o with { Frames = null, Passes = [.. o.Passes.Select(p => p with { Frames = null })] })] }),
            ],
        };
        var facts = ImmutableDictionary.CreateBuilder<string, FileFacts>();
        foreach (PlannedOutput output in PlannedOutput.Of(small))
        {
            string path = output.Name.At(frame), full = Path.Combine(folder, path);
            if (!File.Exists(full))
            {
                continue;
            }

            IntakeFile file = FolderListing.OfFile(full) is var listed ? new IntakeFile(listed.FullPath, path, listed.Bytes, listed.Modified) : null!;
            var request = new FactsRequest(FactsDepth.Pixels, output.HasBeauty ? Stacking.RebuildRecipe.Of(output.Layer) : null) { Catalogue = plan.Catalogue };
            FileFacts found = cache.Find(file, request) ?? FactsReader.Read(file, request, limits, cancel);
            cache.Keep(file, request, found);
            facts[path] = found;
        }

        var intake = new Intake.Intake(folder, FactsDepth.Pixels, DateTime.UtcNow, SequenceFinder.Find(facts.Keys), facts.ToImmutable(), ImmutableDictionary<(string, int), Stacking.RebuildFacts>.Empty);
        return FolderCheck.Judge(small, intake, DateTime.UtcNow).Findings;
    }
}
