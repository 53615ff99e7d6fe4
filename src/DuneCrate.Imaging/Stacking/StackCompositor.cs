using System.Collections.Immutable;
using System.Runtime.ExceptionServices;
using DuneCrate.Exr;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging.Stacking.Looks;

namespace DuneCrate.Imaging.Stacking;

/// <summary>
/// Makes frames of a composite: every strip is read line by line and laid onto those below it; a look changes all that lies below it at
/// once. Safe to share.
/// </summary>
public sealed class StackCompositor
{
    private readonly StackRecipe _recipe;
    private readonly Func<StackStrip, int, IStripRows> _open;
    private readonly ReadLimits _limits;

    /// <summary>A composite of files.</summary>
    /// <param name="recipe">The composite.</param>
    /// <param name="folder">The folder that sources are relative to.</param>
    /// <param name="limits">Bounds on what files may claim.</param>
    public StackCompositor(StackRecipe recipe, StoragePath folder, ReadLimits limits)
        : this(recipe, Only(folder), limits) { }

    /// <summary>A composite of files under several roots.</summary>
    /// <param name="recipe">The composite.</param>
    /// <param name="folderOf">The folder that the sources of a strip are relative to; throws <see cref="ImageException"/>.</param>
    /// <param name="limits">Bounds on what files may claim.</param>
    public StackCompositor(StackRecipe recipe, Func<StackStrip, StoragePath> folderOf, ReadLimits limits)
    {
        (_recipe, _limits) = (recipe, limits);
        _open = (strip, frame) => StripFileRows.Open(strip, folderOf(strip), frame, recipe.Width, recipe.Height, limits);
    }

    private StackCompositor(StackRecipe recipe, Func<StackStrip, int, IStripRows> open, ReadLimits limits) =>
        (_recipe, _open, _limits) = (recipe, open, limits);

    /// <summary>Bands of lines that are worked on side by side, each with readers of its own.</summary>
    public int Bands { get; init; } = 1;

    /// <summary>Pixels across and down that one sample stands for.</summary>
    private int Shrink { get; init; } = 1;

    /// <summary>A composite of strips that are kept.</summary>
    /// <param name="recipe">The composite at the full size.</param>
    /// <param name="shrink">Pixels across and down that one sample stands for.</param>
    /// <param name="pixels">The pixels of a strip; null for one that is left out.</param>
    /// <param name="limits">Bounds on memory.</param>
    public static StackCompositor OfKept(StackRecipe recipe, int shrink, Func<StackStrip, StripPixels?> pixels, ReadLimits limits) =>
        new(
            recipe with
            {
                Width = PicturePlanes.Across(recipe.Width, shrink),
                Height = PicturePlanes.Across(recipe.Height, shrink),
                Strips = [.. recipe.Strips.Where(s => pixels(s) is not null)],
            },
            (strip, _) => pixels(strip)!.Rows(),
            limits
        )
        {
            Bands = Environment.ProcessorCount,
            Shrink = shrink,
        };

    /// <summary>Makes a frame. A strip whose file is not there or cannot be read is left out and told.</summary>
    /// <param name="frame">The frame.</param>
    /// <param name="cancel">Stops.</param>
    /// <param name="laid">Told after each strip's line, for the strip by itself; or null.</param>
    public StackedFrame Make(int frame, CancellationToken cancel, Action<int, int, float[][], float[]>? laid = null)
    {
        (int width, int height) = (_recipe.Width, _recipe.Height);
        int bands = laid is null ? Math.Clamp(Bands, 1, height) : 1;
        var problems = ImmutableArray.CreateBuilder<string>();
        var strips = new List<OpenStrip>();
        try
        {
            for (int i = 0; i < _recipe.Strips.Length; i++)
            {
                if (Open(i, frame, bands, problems) is { } strip)
                {
                    strips.Add(strip);
                }
            }

            long bytes = strips.Sum(s => s.Bands.Sum(b => b.Rows.ReadingBytes)),
                pixels = (long)width * height;
            bool hasLook = strips.Any(s => s.Strip.Look is not null);
            using IDisposable held = _limits.Memory.Take(bytes + (hasLook ? 56 : 16) * pixels, cancel);
            float[][] planes = [.. Enumerable.Range(0, 4).Select(_ => new float[checked(width * height)])];
            for (int i = 0; i < strips.Count; )
            {
                if (strips[i].Strip.Look is not null)
                {
                    Look(strips[i++], planes, cancel);
                    continue;
                }

                OpenStrip[] run = [.. strips.Skip(i).TakeWhile(s => s.Strip.Look is null)];
                Lay(run, planes, bands, laid, cancel);
                i += run.Length;
            }

            problems.AddRange(
                from strip in strips
                let problem = strip.Bands.Select(b => b.Rows.Problem).FirstOrDefault(p => p is not null)
                where problem is not null
                select $"{strip.Strip.Name} at {frame}: {problem}"
            );
            return new StackedFrame(width, height, planes, problems.ToImmutable());
        }
        finally
        {
            strips.ForEach(s => Array.ForEach(s.Bands, b => b.Dispose()));
        }
    }

    private sealed record OpenStrip(int Index, StackStrip Strip, StripLines[] Bands);

    private static Func<StackStrip, StoragePath> Only(StoragePath folder) =>
        strip =>
            strip.Root is null
                ? folder
                : throw new ImageException(strip.Source, 0, $"it lies under the root '{strip.Root}', which only the application knows");

    private OpenStrip? Open(int index, int frame, int bands, ImmutableArray<string>.Builder problems)
    {
        StackStrip strip = _recipe.Strips[index];
        var opened = new List<StripLines>();
        try
        {
            for (int band = 0; band < (strip.Look is null ? bands : 1); band++)
            {
                opened.Add(new StripLines(strip, _open(strip, frame), _recipe.Width));
            }

            if (opened[0].Rows.OtherSize is { } other)
            {
                problems.Add($"{strip.Name} at {frame}: {other}");
            }

            return new OpenStrip(index, strip, [.. opened]);
        }
        catch (ImageException e)
        {
            opened.ForEach(o => o.Dispose());
            problems.Add($"{strip.Name} at {frame} is left out: {e.Path}: {e.Reason}");
            return null;
        }
    }

    private void Lay(OpenStrip[] run, float[][] planes, int bands, Action<int, int, float[][], float[]>? laid, CancellationToken cancel)
    {
        int rows = (_recipe.Height + bands - 1) / bands;
        try
        {
            Parallel.For(
                0,
                bands,
                new ParallelOptions { CancellationToken = cancel, MaxDegreeOfParallelism = bands },
                band => LayBand(run, band, planes, band * rows, Math.Min(_recipe.Height, (band + 1) * rows), laid, cancel)
            );
        }
        catch (AggregateException e)
        {
            ExceptionDispatchInfo.Throw(e.InnerExceptions[0]);
        }
    }

    private void LayBand(
        OpenStrip[] run,
        int band,
        float[][] planes,
        int from,
        int to,
        Action<int, int, float[][], float[]>? laid,
        CancellationToken cancel
    )
    {
        int width = _recipe.Width;
        var blend = new StripBlend(width);
        float[][] row = [.. planes.Select(_ => new float[width])];
        for (int y = from; y < to; y++)
        {
            cancel.ThrowIfCancellationRequested();
            for (int c = 0; c < 4; c++)
            {
                planes[c].AsSpan(y * width, width).CopyTo(row[c]);
            }

            foreach (OpenStrip strip in run)
            {
                StripLines lines = strip.Bands[band];
                if (laid is null && lines.Peek(y) is { } kept && StripBlend.TryLine(strip.Strip.Operation, row, kept))
                {
                    continue;
                }

                lines.Read(y, cancel);
                blend.Line(strip.Strip.Operation, row, lines.Colour, lines.Alpha, lines.Weight, lines.IsWhole);
                laid?.Invoke(strip.Index, y, lines.Colour, lines.Alpha);
            }

            for (int c = 0; c < 4; c++)
            {
                row[c].CopyTo(planes[c], y * width);
            }
        }
    }

    private void Look(OpenStrip strip, float[][] planes, CancellationToken cancel)
    {
        StripPixels pixels = StripPixels.Read(strip.Strip, strip.Bands[0].Rows, _recipe.Width, _recipe.Height, 1, cancel);
        LookPixels.Apply(strip.Strip, pixels, planes, Shrink, cancel);
    }
}
