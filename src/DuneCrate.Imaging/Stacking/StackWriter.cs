using System.Collections.Concurrent;
using DuneCrate.Exr;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging.Pictures;

namespace DuneCrate.Imaging.Stacking;

/// <summary>Writes frames of a composite: OpenEXR of float samples, or PNG as it is seen.</summary>
public static class StackWriter
{
    /// <summary>Whether a name is that of a PNG; others are OpenEXR.</summary>
    public static bool IsPng(string path) => path.EndsWith(".png", StringComparison.OrdinalIgnoreCase);

    /// <summary>Writes frames, as many at once as there are cores.</summary>
    /// <param name="recipe">The composite.</param>
    /// <param name="compositor">Makes it.</param>
    /// <param name="frames">The frames.</param>
    /// <param name="fileOf">The file of a frame; its folder is there.</param>
    /// <param name="done">Told how many frames are written; or null.</param>
    /// <param name="cancel">Stops between frames.</param>
    /// <returns>What was left out, a sentence without its point each, in order.</returns>
    /// <exception cref="IOException">A file cannot be written.</exception>
    public static IReadOnlyCollection<string> Write(
        StackRecipe recipe,
        StackCompositor compositor,
        IEnumerable<int> frames,
        Func<int, StoragePath> fileOf,
        Action<int>? done,
        CancellationToken cancel
    )
    {
        var problems = new SortedSet<string>(StringComparer.Ordinal);
        int written = 0;
        Parallel.ForEach(
            Partitioner.Create(frames, EnumerablePartitionerOptions.NoBuffering),
            new ParallelOptions { CancellationToken = cancel, MaxDegreeOfParallelism = Environment.ProcessorCount },
            frame =>
            {
                StackedFrame made = compositor.Make(frame, cancel);
                Write(recipe, made, fileOf(frame));
                lock (problems)
                {
                    problems.UnionWith(made.Problems);
                }

                done?.Invoke(Interlocked.Increment(ref written));
            }
        );
        return problems;
    }

    private static void Write(StackRecipe recipe, StackedFrame frame, StoragePath to)
    {
        if (IsPng(to.Name))
        {
            byte[] png = PictureMaker.Render(frame.ToPixels(), new PictureSettings()).ToPng();
            to.Replace(stream => stream.Write(png), isLasting: false);
        }
        else
        {
            ExrWriter.Write(to, frame.ToExr(recipe.FrameRate is { } rate ? [ExrAttribute.Rational("framesPerSecond", rate)] : []));
        }
    }
}
