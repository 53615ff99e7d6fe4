using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.IO.Hashing;
using System.Runtime.InteropServices;
using System.Text;
using DuneCrate.Checking.Intake.Gathering;
using DuneCrate.Checking.Rebuild;
using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;
using DuneCrate.Planning.Model;

namespace DuneCrate.Checking.Intake;

/// <summary>
/// Measures the rebuild of layers whose beauty and light passes lie in several files (file per pass), frame by frame. Files are read side
/// by side, a band of each at a time; what was
/// measured is remembered for as long as all files involved stay the same.
/// </summary>
internal sealed class SplitRebuild(
    StoragePath folder,
    Plan plan,
    ImmutableDictionary<string, FileFacts> facts,
    IFactsCache cache,
    ReadLimits limits
)
{
    /// <summary>How many frames there are to sum at most, from names alone.</summary>
    public static int Count(Plan plan, IReadOnlySet<string> paths) =>
        Layers(plan).Sum(l => l.Lead.Frames.Count(f => paths.Contains(l.Lead.Name.At(f))));

    /// <summary>What there is to sum; frames that lack a file or a channel, or have a damaged one, are left out.</summary>
    public ImmutableArray<SplitSum> Sums() =>
        [
            .. Layers(plan)
                .SelectMany(l =>
                    l.Lead.Frames.Where(f => facts.ContainsKey(l.Lead.Name.At(f))).Select(f => SumAt(l, f)).OfType<SplitSum>()
                ),
        ];

    /// <summary>The rebuilds by layer and frame; those that are remembered are not measured again.</summary>
    /// <param name="gatherer">Opens the files.</param>
    /// <param name="done">Told after every frame, with the name of its first file.</param>
    /// <param name="cancel">Stops.</param>
    public ImmutableDictionary<(string Layer, int Frame), RebuildFacts> Run(
        IFactsGatherer gatherer,
        Action<string> done,
        CancellationToken cancel
    )
    {
        var found = new ConcurrentDictionary<(string, int), RebuildFacts>();
        var unknown = ImmutableArray.CreateBuilder<SplitSum>();
        void Got(SplitSum sum, RebuildFacts? result)
        {
            if (result is not null)
            {
                found[(sum.Layer, sum.Frame)] = result;
            }

            done(sum.Files[0].Path);
        }

        foreach (SplitSum sum in Sums())
        {
            cancel.ThrowIfCancellationRequested();
            if (cache.FindRebuild(sum.Key) is { } known)
            {
                Got(sum, known);
            }
            else
            {
                unknown.Add(sum);
            }
        }

        var order = new SumsOrder(folder, unknown.ToImmutable(), plan.Catalogue, cache, limits);
        gatherer.Measure(order, (place, result) => Got(order.Sums[place], result), cancel);
        return found.ToImmutableDictionary();
    }

    /// <summary>A layer whose sum lies in several files.</summary>
    /// <param name="Name">Its name.</param>
    /// <param name="Recipe">What sums to what.</param>
    /// <param name="Homes">Where each channel lies.</param>
    /// <param name="Lead">The output with the beauty.</param>
    private sealed record SplitLayer(string Name, RebuildRecipe Recipe, Dictionary<string, PlannedOutput> Homes, PlannedOutput Lead);

    private static IEnumerable<SplitLayer> Layers(Plan plan)
    {
        foreach (IGrouping<LayerPlan, PlannedOutput> layer in PlannedOutput.From(plan).GroupBy(o => o.Layer))
        {
            if (RebuildRecipe.From(layer.Key) is not { } recipe)
            {
                continue;
            }

            var homes = layer
                .SelectMany(o =>
                    o.Passes.SelectMany(p => recipe.Channels.Where(c => RebuildRecipe.IsOf(c, p)).Select(c => (Channel: c, Output: o)))
                )
                .DistinctBy(h => h.Channel)
                .ToDictionary(h => h.Channel, h => h.Output);
            if (homes.Values.Distinct().Count() >= 2 && homes.Values.FirstOrDefault(o => o.HasBeauty) is { } lead)
            {
                yield return new SplitLayer(layer.Key.Name, recipe, homes, lead);
            }
        }
    }

    /// <summary>Raised when what is measured of a sum changes, so that what was kept of it is not believed.</summary>
    private const string Form = "2|";

    private SplitSum? SumAt(SplitLayer layer, int frame)
    {
        var files = ImmutableArray.CreateBuilder<(string, ImmutableArray<string>, HeldPass?)>();
        StringBuilder key = new StringBuilder(Form).Append(layer.Recipe.Signature);
        foreach (
            IGrouping<PlannedOutput, string> home in layer.Homes.GroupBy(h => h.Value, h => h.Key).OrderBy(h => h.Key == layer.Lead ? 0 : 1)
        )
        {
            string path = home.Key.Name.At(frame);
            if (
                facts.GetValueOrDefault(path) is not { } stored
                || (home.Key.Held is { } held ? stored.As(held) : stored) is not { Content.IsEmpty: false } known
                || known.Trouble != ImageProblem.None
                || home.Any(c => known.FindChannel(RebuildRecipe.NameOf(c)) is null)
            )
            {
                return null;
            }

            files.Add((path, [.. home], home.Key.Held));
            key.Append('|').Append(Convert.ToHexString(known.Content.AsSpan())).Append(' ').AppendJoin(',', home);
        }

        UInt128 hash = XxHash128.HashToUInt128(MemoryMarshal.AsBytes(key.ToString().AsSpan()));
        return new SplitSum(layer.Name, frame, layer.Recipe, files.ToImmutable(), new RebuildKey(folder.At(files[0].Item1), hash));
    }
}
