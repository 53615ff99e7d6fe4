using System.Collections.Immutable;
using DuneCrate.Core.Images;
using DuneCrate.Core.Intake;
using DuneCrate.Core.Rebuild;

namespace DuneCrate.Core.Pictures;

/// <summary>
/// Beauty, sum and residual of one frame, as pictures' planes; and the numbers, which are of every pixel however much the planes are
/// shrunk.
/// </summary>
/// <param name="Window">The data window.</param>
/// <param name="Shrink">How many pixels across and down one sample stands for.</param>
/// <param name="Sum">Red, green and blue of Σ terms: means of the pixels that a sample stands for.</param>
/// <param name="Residual">The greatest |beauty − sum| of the three colours and of the pixels that a sample stands for.</param>
/// <param name="Facts">The numbers.</param>
public sealed record RebuildPixels(PixelBox Window, int Shrink, ImmutableArray<float[]> Sum, float[] Residual, RebuildFacts Facts)
{
    /// <summary>Samples across.</summary>
    public int Width => PicturePlanes.Across(Window.Width, Shrink);

    /// <summary>Samples down.</summary>
    public int Height => PicturePlanes.Across(Window.Height, Shrink);

    /// <summary>Bytes that the planes take.</summary>
    public long Bytes => 4L * Residual.LongLength * sizeof(float);

    /// <summary>Works the rebuild out, line by line.</summary>
    /// <param name="recipe">What sums to what.</param>
    /// <param name="lines">The files, opened and not read yet.</param>
    /// <param name="shrink">How many pixels one sample is to stand for, across and down.</param>
    /// <param name="cancel">Stops.</param>
    /// <exception cref="ImageException">The pixels are of a kind that is not read, or lines are lost.</exception>
    public static RebuildPixels Compute(RebuildRecipe recipe, RebuildLines lines, int shrink, CancellationToken cancel)
    {
        PixelBox window = lines.Window;
        int wide = (int)window.Width,
            width = PicturePlanes.Across(window.Width, shrink),
            height = PicturePlanes.Across(window.Height, shrink);
        float[][] sums = [new float[width * height], new float[width * height], new float[width * height]];
        float[] residual = new float[width * height],
            sum = new float[wide];
        int[] pixels = new int[width * height];
        var measure = new RebuildMeasure(recipe, wide);
        for (int y = window.MinY; y <= window.MaxY; y++)
        {
            lines.Read(y, cancel);
            measure.AddLine(lines.Beauty, lines.Terms, window.MinX, y);
            int row = (y - window.MinY) / shrink * width;
            for (int colour = 0; colour < 3; colour++)
            {
                Add(lines, colour, sum);
                for (int x = 0; x < wide; x++)
                {
                    int at = row + x / shrink;
                    float off = MathF.Abs(lines.Beauty[colour][x] - sum[x]);
                    sums[colour][at] += sum[x];
                    residual[at] = off > residual[at] || !float.IsFinite(off) ? off : residual[at];
                    pixels[at] += colour == 0 ? 1 : 0;
                }
            }
        }

        foreach (float[] plane in shrink > 1 ? sums : [])
        {
            for (int i = 0; i < plane.Length; i++)
            {
                plane[i] /= pixels[i];
            }
        }

        return lines.Problem is { } lost
            ? throw new ImageException("", 0, lost)
            : new RebuildPixels(window, shrink, [.. sums], residual, measure.Finish());
    }

    private static void Add(RebuildLines lines, int colour, float[] sum)
    {
        Array.Clear(sum);
        foreach (float[][] term in lines.Terms)
        {
            System.Numerics.Tensors.TensorPrimitives.Add(sum, term[colour], sum);
        }
    }
}
