using System.Collections.Immutable;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Intake.Gathering;
using DuneCrate.Checking.Rebuild;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Storage;
using DuneCrate.Foundation.Time;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Listing;
using DuneCrate.Planning.Model;

namespace DuneCrate.Checking;

/// <summary>
/// Checks the first whole frame of a layer as soon as it is there: camera, size, channels, types, range. A mistake is seen after one frame
/// and not after ten hours.
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
    /// <param name="gatherer">Opens the files; they are opened here without.</param>
    /// <param name="clock">Tells the time; the system does without.</param>
    public static ImmutableArray<Finding> Run(
        StoragePath folder,
        Plan plan,
        string layer,
        int frame,
        IFactsCache cache,
        ReadLimits limits,
        CancellationToken cancel,
        IFactsGatherer? gatherer = null,
        TimeProvider? clock = null
    )
    {
        Plan small = TestFrameCheck.PlanFor(plan with { Layers = [.. plan.Layers.Where(l => l.Name == layer)] }, frame, 1);
        var files = ImmutableArray.CreateBuilder<IntakeFile>();
        var asked = new Dictionary<string, FactsRequest>();
        foreach (PlannedOutput output in PlannedOutput.From(small))
        {
            string path = output.Name.At(frame);
            if (
                folder.TryAt(path, out StoragePath? place, out _)
                && FolderListing.OfFile(place, path) is { } file
                && !asked.ContainsKey(path)
            )
            {
                files.Add(file);
                asked[path] = new FactsRequest(FactsDepth.Pixels, output.HasBeauty ? RebuildRecipe.From(output.Layer) : null)
                {
                    Catalogue = plan.Catalogue,
                    Held = output.Held,
                };
            }
        }

        FileFacts?[] found = [.. files.Select(f => cache.Find(f, asked[f.Path]))];
        (gatherer ?? GatheringHere.Shared).Gather(
            new FactsOrder(
                folder,
                FactsDepth.Pixels,
                files.ToImmutable(),
                [.. Enumerable.Range(0, found.Length).Where(i => found[i] is null)],
                f => asked[f.Path],
                cache,
                limits
            )
            {
                Haste = GatherHaste.First,
            },
            (place, read) => found[place] = read,
            cancel
        );
        var facts = found.OfType<FileFacts>().ToImmutableDictionary(f => f.Path);
        DateTime now = (clock ?? TimeProvider.System).UtcNow;
        var intake = new IntakeResult(
            folder,
            FactsDepth.Pixels,
            now,
            SequenceFinder.Find(facts.Keys),
            facts,
            ImmutableDictionary<(string, int), RebuildFacts>.Empty
        );
        return FolderCheck.Judge(small, intake, now).Findings;
    }
}
