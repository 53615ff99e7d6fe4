using System.Collections.Immutable;
using DuneCrate.Core.Images;
using DuneCrate.Core.Storage;

namespace DuneCrate.Core.Stacking;

/// <summary>Makes frames of a composite: every strip is read line by line and laid onto those below it. Safe to share.</summary>
/// <param name="recipe">The composite.</param>
/// <param name="folder">The folder that sources are relative to.</param>
/// <param name="limits">Bounds on what files may claim.</param>
public sealed class StackCompositor(StackRecipe recipe, StoragePath folder, ReadLimits limits)
{
    /// <summary>Makes a frame. A strip whose file is not there or cannot be read is left out and told.</summary>
    /// <param name="frame">The frame.</param>
    /// <param name="cancel">Stops.</param>
    /// <param name="laid">Told after each strip's line, for the strip by itself; or null.</param>
    public StackedFrame Make(int frame, CancellationToken cancel, Action<int, int, float[][], float[]>? laid = null)
    {
        (int width, int height) = (recipe.Width, recipe.Height);
        var problems = ImmutableArray.CreateBuilder<string>();
        var strips = new List<(int Index, StripLines Lines)>();
        try
        {
            for (int i = 0; i < recipe.Strips.Length; i++)
            {
                StackStrip strip = recipe.Strips[i];
                try
                {
                    StripLines lines = StripLines.Open(strip, folder, frame, width, limits);
                    strips.Add((i, lines));
                    if (lines.OtherSize(width, height) is { } other)
                    {
                        problems.Add($"{strip.Name} at {frame}: {other}");
                    }
                }
                catch (ImageException e)
                {
                    problems.Add($"{strip.Name} at {frame} is left out: {e.Path}: {e.Reason}");
                }
            }

            using IDisposable held = limits.Memory.Take(strips.Sum(s => s.Lines.ReadingBytes) + 16L * width * height, cancel);
            float[][] planes = [.. Enumerable.Range(0, 4).Select(_ => new float[checked(width * height)])],
                row = [.. Enumerable.Range(0, 4).Select(_ => new float[width])];
            for (int y = 0; y < height; y++)
            {
                cancel.ThrowIfCancellationRequested();
                foreach (float[] line in row)
                {
                    Array.Clear(line);
                }

                foreach ((int index, StripLines lines) in strips)
                {
                    lines.Read(y, cancel);
                    StripBlend.Line(recipe.Strips[index].Operation, row, lines.Colour, lines.Alpha, lines.Weight);
                    laid?.Invoke(index, y, lines.Colour, lines.Alpha);
                }

                for (int c = 0; c < 4; c++)
                {
                    row[c].CopyTo(planes[c], y * width);
                }
            }

            problems.AddRange(
                strips.Where(s => s.Lines.Problem is not null).Select(s => $"{recipe.Strips[s.Index].Name} at {frame}: {s.Lines.Problem}")
            );
            return new StackedFrame(width, height, planes, problems.ToImmutable());
        }
        finally
        {
            strips.ForEach(s => s.Lines.Dispose());
        }
    }
}
