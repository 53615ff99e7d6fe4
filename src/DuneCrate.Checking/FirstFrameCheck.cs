using System.Collections.Immutable;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Intake.Gathering;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Rebuild;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Storage;
using DuneCrate.Foundation.Time;
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
    /// <param name="request">What is checked, against which plan.</param>
    /// <param name="layer">The layer.</param>
    /// <param name="frame">A frame of which every output has come.</param>
    /// <param name="cancel">Stops between files.</param>
    public static ImmutableArray<Finding> Run(CheckRequest request, string layer, int frame, CancellationToken cancel)
    {
        Plan plan = request.Plan ?? throw new ArgumentException("A first frame is held against a plan.", nameof(request));
        Plan small = TestFrameCheck.PlanFor(plan with { Layers = [.. plan.Layers.Where(l => l.Name == layer)] }, frame, 1);
        var files = ImmutableArray.CreateBuilder<IntakeFile>();
        var asked = new Dictionary<string, FactsRequest>();
        foreach (PlannedOutput output in PlannedOutput.From(small))
        {
            string path = output.Name.At(frame);
            if (
                request.Folder.TryAt(path, out StoragePath? place, out _)
                && FolderListing.OfFile(place, path) is { } file
                && !asked.ContainsKey(path)
            )
            {
                files.Add(file);
                asked[path] = new FactsRequest(request.Depth, output.HasBeauty ? RebuildRecipe.From(output.Layer) : null)
                {
                    Catalogue = plan.Catalogue,
                    Held = output.Held,
                };
            }
        }

        FileFacts?[] found = [.. files.Select(f => request.Cache.Find(f, asked[f.Path]))];
        request.Gatherer.Gather(
            new FactsOrder(
                request.Folder,
                request.Depth,
                files.ToImmutable(),
                [.. Enumerable.Range(0, found.Length).Where(i => found[i] is null)],
                f => asked[f.Path],
                request.Cache,
                request.Limits
            )
            {
                Priority = GatherPriority.First,
            },
            (place, read) => found[place] = read,
            cancel
        );
        var facts = found.OfType<FileFacts>().ToImmutableDictionary(f => f.Path);
        var intake = new IntakeResult(
            request.Folder,
            request.Depth,
            request.Clock.UtcNow,
            SequenceFinder.Find(facts.Keys),
            facts,
            ImmutableDictionary<(string, int), RebuildFacts>.Empty
        );
        return FolderCheck.Judge(new CheckContext(small, intake)).Findings;
    }
}
