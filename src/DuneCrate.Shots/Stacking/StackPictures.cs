using System.Collections.Concurrent;
using System.Collections.Immutable;
using DuneCrate.Exr;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Stacking;
using DuneCrate.Shots.Jobs;
using DuneCrate.Shots.Pictures;
using DuneCrate.Shots.Views;

namespace DuneCrate.Shots.Stacking;

/// <summary>
/// Composites for pages. The strips' pixels are kept, so that opacity, gain, operation and order change without reading again. Safe to call
/// from several threads.
/// </summary>
public sealed class StackPictures(PictureService pictures, StackSources sources, ReadLimits limits) : IDisposable
{
    private const long KeptBytes = 192L << 20,
        MostSamples = 2_200_000;
    private const int FewStrips = 8;

    private readonly SharedCache<string, StripPixels> _strips = new(KeptBytes, (_, p) => p.Bytes);

    /// <summary>A frame of a composite with the strips that made it.</summary>
    /// <param name="Frame">The picture.</param>
    /// <param name="Strips">The strips that could be read, from the bottom.</param>
    public sealed record Made(StackedFrame Frame, ImmutableArray<(StackStrip Strip, StripPixels Pixels)> Strips);

    /// <summary>Makes a frame of a composite, shrunk for a width.</summary>
    /// <param name="view">The shot.</param>
    /// <param name="recipe">The composite.</param>
    /// <param name="frame">The frame.</param>
    /// <param name="width">Pixels across that it is shown at; 0 for all of them.</param>
    /// <param name="cancel">Leaves.</param>
    public async Task<Made> MakeAsync(ShotView view, StackRecipe recipe, int frame, int width, CancellationToken cancel)
    {
        int shrink = ShrinkFor(recipe, width);
        (ImmutableArray<(StackStrip Strip, StripPixels Pixels)> strips, ImmutableArray<string> problems) = await StripsAsync(
            view,
            recipe.Strips,
            recipe,
            frame,
            shrink,
            cancel
        );
        var kept = new Dictionary<StackStrip, StripPixels>(ReferenceEqualityComparer.Instance);
        foreach ((StackStrip strip, StripPixels pixels) in strips)
        {
            kept[strip] = pixels;
        }

        StackCompositor compositor = StackCompositor.OfKept(
            recipe,
            shrink,
            strip => kept.TryGetValue(strip, out StripPixels? pixels) ? pixels : null,
            limits
        );
        StackedFrame made = await pictures.ReadAsync(_ => compositor.Make(frame, cancel), cancel);
        return new Made(made with { Problems = [.. problems, .. made.Problems] }, strips);
    }

    /// <summary>The pixels of one strip; null when they cannot be read.</summary>
    public async Task<StripPixels?> StripAsync(
        ShotView view,
        StackRecipe recipe,
        int strip,
        int frame,
        int width,
        CancellationToken cancel
    ) =>
        (await StripsAsync(view, [recipe.Strips[strip]], recipe, frame, ShrinkFor(recipe, width), cancel)).Strips is [(_, var pixels)]
            ? pixels
            : null;

    private async Task<(ImmutableArray<(StackStrip, StripPixels)> Strips, ImmutableArray<string> Problems)> StripsAsync(
        ShotView view,
        IReadOnlyList<StackStrip> strips,
        StackRecipe recipe,
        int frame,
        int shrink,
        CancellationToken cancel
    )
    {
        var problems = new ConcurrentDictionary<int, string>();
        StripPixels?[] read = await Task.WhenAll(
            strips.Select(
                async (strip, i) =>
                {
                    try
                    {
                        return await ReadAsync(view, strip, recipe, frame, shrink, cancel);
                    }
                    catch (Exception e) when (e is ImageException or IOException or UnauthorizedAccessException)
                    {
                        string reason = e is ImageException image ? $"{image.Path}: {image.Reason}" : $"it {StorageException.ReasonOf(e)}";
                        problems[i] = $"{strip.Name} at {frame} is left out: {reason}";
                        return null;
                    }
                }
            )
        );
        return (
            [.. strips.Zip(read).Where(p => p.Second is not null).Select(p => (p.First, p.Second!))],
            [.. problems.OrderBy(p => p.Key).Select(p => p.Value)]
        );
    }

    private async Task<StripPixels> ReadAsync(
        ShotView view,
        StackStrip strip,
        StackRecipe recipe,
        int frame,
        int shrink,
        CancellationToken cancel
    )
    {
        StoragePath folder = sources.FolderOf(view, strip);
        string stamps = string.Join(
            '|',
            new[] { strip.Source, strip.Mask?.Source }
                .OfType<string>()
                .Select(s => FrameName.Read(s).At(strip.FrameAt(frame)))
                .Select(n => folder.TryAt(n, out StoragePath? path, out _) ? $"{path.FullPath} {path.Look()}" : n)
        );
        string key = $"{StripPixels.KeyOf(strip)}|{stamps}|{recipe.Width}x{recipe.Height}|{shrink}";
        return await _strips.GetAsync(
            key,
            stop =>
                pictures.ReadAsync(
                    memory =>
                    {
                        int across = PicturePlanes.Across(recipe.Width, shrink),
                            down = PicturePlanes.Across(recipe.Height, shrink);
                        using IDisposable held = memory(5L * sizeof(float) * across * down);
                        return StripPixels.Read(strip, folder, frame, recipe.Width, recipe.Height, shrink, limits, stop);
                    },
                    stop
                ),
            cancel
        );
    }

    private static int ShrinkFor(StackRecipe recipe, int width)
    {
        // All strips are in memory at once: the more there are, the smaller each is.
        long most = MostSamples * FewStrips / Math.Max(FewStrips, recipe.Strips.Length);
        int shrink = width > 0 ? Math.Max(1, recipe.Width / width) : 1;
        while ((long)PicturePlanes.Across(recipe.Width, shrink) * PicturePlanes.Across(recipe.Height, shrink) > most)
        {
            shrink++;
        }

        return shrink;
    }

    /// <inheritdoc/>
    public void Dispose() => _strips.Dispose();
}
