using System.Collections.Immutable;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Passes;
using DuneCrate.Planning.Model;

namespace DuneCrate.Checking.Matching;

/// <summary>What the rules judge as one: a planned output with its files, or, without a plan, a sequence that was found.</summary>
public sealed class CheckedOutput
{
    private const int LeastToCompare = 3;

    /// <summary>Makes a output.</summary>
    internal CheckedOutput(PlannedOutput? planned, FrameName name, string layer, ImmutableArray<CheckedFile> files, FrameSet misnamed)
    {
        (Planned, Name, Layer, Misnamed) = (planned, name, layer, misnamed);
        var shapes = new ChannelShape.Finder();
        Files =
        [
            .. files
                .Select(f => f with { Shape = shapes.Match(f.Facts) })
                .OrderBy(f => f.Frame)
                .ThenBy(f => f.Facts.Path, StringComparer.Ordinal),
        ];
        Frames = FrameSet.From(Files.Select(f => f.Frame));
        ByFrame = Files.DistinctBy(f => f.Frame).ToImmutableSortedDictionary(f => f.Frame, f => f);
        Passes = planned is null
            ? Guess()
            :
            [
                .. planned.Passes.Select(
                    (p, i) => new CheckedPass(p.Pass, planned.Plan.Catalogue.Find(p.Pass), [.. p.Channels.Select(c => (c.Key, c.Value))], i)
                ),
            ];
    }

    /// <summary>The planned output, or null without a plan.</summary>
    public PlannedOutput? Planned { get; }

    /// <summary>
    /// Whether it is known what each file should hold: the plan says so, or there are enough files to hold one against the rest.
    /// </summary>
    public bool IsExpected => Planned is not null || Files.Length >= LeastToCompare;

    /// <summary>The passes that are known: the show's, or without a plan those that ship.</summary>
    public PassCatalogue Catalogue => Planned?.Plan.Catalogue ?? PassCatalogue.Shipped;

    /// <summary>The name that files should have.</summary>
    public FrameName Name { get; }

    /// <summary>Name for reports.</summary>
    public string Key => Name.ToString();

    /// <summary>The layer; without a plan the first folder.</summary>
    public string Layer { get; }

    /// <summary>Whether its files lie in a folder or in one below it.</summary>
    public bool IsIn(string folder) => Name.Prefix.StartsWith($"{folder}/", StringComparison.Ordinal);

    /// <summary>All files, ascending by frame; two may claim one frame.</summary>
    public ImmutableArray<CheckedFile> Files { get; }

    /// <summary>The frames for which there is a file.</summary>
    public FrameSet Frames { get; }

    /// <summary>Frames that are there, but under a name that is not quite right.</summary>
    public FrameSet Misnamed { get; }

    /// <summary>The first file of each frame.</summary>
    public ImmutableSortedDictionary<int, CheckedFile> ByFrame { get; }

    /// <summary>The passes to be found in the files; without a plan those of most files.</summary>
    public ImmutableArray<CheckedPass> Passes { get; }

    /// <summary>The files that open.</summary>
    public IEnumerable<CheckedFile> Readable => Files.Where(f => f.Facts.Readable);

    /// <summary>The files that open, by their channels.</summary>
    public ILookup<ChannelShape, CheckedFile> ByShape => field ??= Readable.ToLookup(f => f.Shape);

    /// <summary>The passes that the channels of most files would be, by name; of two as frequent ones those of the first file.</summary>
    private ImmutableArray<CheckedPass> Guess() =>
        [
            .. (ByShape.OrderByDescending(s => s.Count()).FirstOrDefault()?.First().Facts.Channels ?? [])
                .GroupBy(c => c.Pass)
                .Select(
                    (p, i) =>
                        new CheckedPass(
                            p.Key ?? p.First().Name,
                            p.Key is null ? null : PassCatalogue.Shipped.Find(p.Key),
                            [.. p.Select(c => (c.Name, c.Type))],
                            i
                        )
                ),
        ];
}
