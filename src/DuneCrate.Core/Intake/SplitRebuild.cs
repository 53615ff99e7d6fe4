using System.Collections.Concurrent;
using System.Collections.Immutable;
using DuneCrate.Core.Images;
using DuneCrate.Core.Images.Exr;
using DuneCrate.Core.Planning;
using DuneCrate.Core.Stacking;

namespace DuneCrate.Core.Intake;

/// <summary>
/// Measures the rebuild of layers whose beauty and light passes lie in several files (file per pass), frame by frame. Each worker
/// holds the pictures of one frame's terms.
/// </summary>
internal sealed class SplitRebuild(string folder, Plan plan, ImmutableDictionary<string, FileFacts> facts)
{
    /// <summary>The rebuilds by layer and frame; frames that lack a file or a channel are left out.</summary>
    public ImmutableDictionary<(string Layer, int Frame), RebuildFacts> Run(int workers, CancellationToken cancel)
    {
        var found = new ConcurrentDictionary<(string, int), RebuildFacts>();
        foreach (IGrouping<LayerPlan, PlannedOutput> layer in PlannedOutput.Of(plan).GroupBy(o => o.Layer))
        {
            if (RebuildRecipe.Of(layer.Key) is not { } recipe)
            {
                continue;
            }

            var homes = layer.SelectMany(o => o.Passes.SelectMany(p => p.Channels.Keys.Select(c => (Channel: c, Output: o))))
                .Where(h => recipe.Channels.Contains(h.Channel)).DistinctBy(h => h.Channel).ToDictionary(h => h.Channel, h => h.Output);
            if (homes.Count == 0 || homes.Values.Distinct().Count() < 2 || homes.Values.FirstOrDefault(o => o.HasBeauty) is not { } lead)
            {
                continue;
            }

            Parallel.ForEach(lead.Frames, new ParallelOptions { MaxDegreeOfParallelism = workers, CancellationToken = cancel }, frame =>
            {
                if (Measure(recipe, homes, frame, cancel) is { } result)
                {
                    found[(layer.Key.Name, frame)] = result;
                }
            });
        }

        return found.ToImmutableDictionary();
    }

    private RebuildFacts? Measure(RebuildRecipe recipe, Dictionary<string, PlannedOutput> homes, int frame, CancellationToken cancel)
    {
        var planes = new Dictionary<string, float[]>();
        PixelBox? window = null;
        foreach (IGrouping<string, KeyValuePair<string, PlannedOutput>> file in homes.GroupBy(h => h.Value.Name.At(frame)))
        {
            if (!facts.TryGetValue(file.Key, out FileFacts? known) || known.Trouble != ImageProblem.None || file.Any(c => known.FindChannel(c.Key) is null))
            {
                return null;
            }

            string[] channels = [.. file.Select(c => c.Key)];
            try
            {
                using ExrFile exr = ExrFile.Open(Path.Combine(folder, file.Key));
                ExrPart part = exr.Parts.First(p => p.Channels.Any(c => c.Name == channels[0]));
                if (window is { } other && other != part.DataWindow)
                {
                    return null;
                }

                window = part.DataWindow;
                foreach ((string name, float[] plane) in ExrImage.Read(exr, part, channels, out _, cancel).Planes)
                {
                    planes[name] = plane;
                }
            }
            catch (Exception e) when (e is ImageException or IOException or UnauthorizedAccessException)
            {
                return null;
            }
        }

        return window is { } box && recipe.Channels.All(planes.ContainsKey) ? Measure(recipe, planes, box) : null;
    }

    /// <summary>Measures pictures in memory: planes of the box's width × height, row-major, by channel name.</summary>
    internal static RebuildFacts Measure(RebuildRecipe recipe, IReadOnlyDictionary<string, float[]> planes, PixelBox box)
    {
        int width = (int)box.Width;
        var measure = new RebuildMeasure(recipe, width);
        for (int y = 0; y < box.Height; y++)
        {
            float[] Line(string channel) => planes[channel].AsSpan(y * width, width).ToArray();
            float[] Product(ImmutableArray<ImmutableArray<string>> factors, int colour)
            {
                float[] line = Line(factors[0][colour]);
                foreach (ImmutableArray<string> factor in factors.Skip(1))
                {
                    System.Numerics.Tensors.TensorPrimitives.Multiply(line, Line(factor[colour]), line);
                }

                return line;
            }

            measure.AddLine(
                [.. Enumerable.Range(0, 3).Select(c => Line(recipe.Beauty[c]))],
                [.. recipe.Terms.Select(t => Enumerable.Range(0, 3).Select(c => Product(t.Factors, c)).ToArray())], box.MinX, y + box.MinY);
        }

        return measure.Finish();
    }
}
