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
/// <param name="Beauty">Red, green and blue of the beauty: means of the pixels that a sample stands for.</param>
/// <param name="Sum">Red, green and blue of Σ terms: means of the pixels that a sample stands for.</param>
/// <param name="Residual">The greatest |beauty − sum| of the three colours and of the pixels that a sample stands for.</param>
/// <param name="Facts">The numbers.</param>
/// <param name="Fitted">What the fit over all pixels says of each term.</param>
/// <param name="High">99 of 100 pixels are no farther from the beauty in their worst colour, within a fortieth.</param>
public sealed record RebuildPixels(
    PixelBox Window,
    int Shrink,
    ImmutableArray<float[]> Beauty,
    ImmutableArray<float[]> Sum,
    float[] Residual,
    RebuildFacts Facts,
    ImmutableArray<FittedTerm> Fitted,
    double High
)
{
    private const int StepsPerOctave = 28,
        LeastOctave = -24,
        Octaves = 48;

    /// <summary>Samples across.</summary>
    public int Width => PicturePlanes.Across(Window.Width, Shrink);

    /// <summary>Samples down.</summary>
    public int Height => PicturePlanes.Across(Window.Height, Shrink);

    /// <summary>Bytes that the planes take.</summary>
    public long Bytes => 7L * Residual.LongLength * sizeof(float);

    /// <summary>Works the rebuild out, line by line.</summary>
    /// <param name="recipe">What sums to what.</param>
    /// <param name="lines">The files, opened and not read yet.</param>
    /// <param name="shrink">How many pixels one sample is to stand for, across and down.</param>
    /// <param name="weights">What each term is multiplied by; empty for 1.</param>
    /// <param name="cancel">Stops.</param>
    /// <exception cref="ImageException">The pixels are of a kind that is not read, or lines are lost.</exception>
    public static RebuildPixels Compute(
        RebuildRecipe recipe,
        RebuildLines lines,
        int shrink,
        ImmutableArray<double> weights,
        CancellationToken cancel
    )
    {
        PixelBox window = lines.Window;
        int wide = (int)window.Width,
            width = PicturePlanes.Across(window.Width, shrink),
            height = PicturePlanes.Across(window.Height, shrink);
        float[][] Planes() => [new float[width * height], new float[width * height], new float[width * height]];
        float[][] sums = Planes(),
            beauties = Planes();
        float[] residual = new float[width * height],
            sum = new float[wide],
            off = new float[wide],
            worst = new float[wide];
        long[] spread = new long[StepsPerOctave * Octaves + 2];
        var measure = new RebuildMeasure(recipe, wide);
        var fit = new RebuildFit(recipe);
        var weighted = new WeightedTerms(weights, wide);
        for (int y = window.MinY; y <= window.MaxY; y++)
        {
            lines.Read(y, cancel);
            float[][][] terms = weighted.Of(lines.Terms);
            measure.AddLine(lines.Beauty, terms, window.MinX, y);
            int row = (y - window.MinY) / shrink * width;
            Array.Clear(worst);
            for (int colour = 0; colour < 3; colour++)
            {
                Add(terms, colour, sum);
                for (int x = 0; x < wide; x++)
                {
                    int at = row + x / shrink;
                    float apart = lines.Beauty[colour][x] - sum[x],
                        size = MathF.Abs(apart);
                    sums[colour][at] += sum[x];
                    beauties[colour][at] += lines.Beauty[colour][x];
                    residual[at] = size > residual[at] || !float.IsFinite(size) ? size : residual[at];
                    off[x] = float.IsFinite(apart) ? apart : 0;
                    worst[x] = MathF.Max(worst[x], MathF.Abs(off[x]));
                }

                fit.AddLine(lines.Beauty[colour], terms, colour, off);
            }

            foreach (float value in worst)
            {
                spread[StepOf(value)]++;
            }
        }

        foreach (float[] plane in shrink > 1 ? [.. sums, .. beauties] : Array.Empty<float[]>())
        {
            PicturePlanes.Divide(plane, window, width, shrink);
        }

        return lines.Problem is { } lost
            ? throw new ImageException("", 0, lost)
            : new RebuildPixels(
                window,
                shrink,
                [.. beauties],
                [.. sums],
                residual,
                measure.Finish(),
                [.. fit.Terms()],
                HighOf(spread, wide * window.Height)
            );
    }

    private static int StepOf(float value) =>
        value > 0 ? Math.Clamp((int)((MathF.Log2(value) - LeastOctave) * StepsPerOctave) + 1, 1, StepsPerOctave * Octaves + 1) : 0;

    private static double HighOf(long[] spread, long pixels)
    {
        long left = pixels - (long)Math.Ceiling(0.99 * pixels),
            above = 0;
        for (int step = spread.Length - 1; step > 0; step--)
        {
            above += spread[step];
            if (above > left)
            {
                return Math.Pow(2, (step - 0.5) / StepsPerOctave + LeastOctave);
            }
        }

        return 0;
    }

    private static void Add(float[][][] terms, int colour, float[] sum)
    {
        Array.Clear(sum);
        foreach (float[][] term in terms)
        {
            System.Numerics.Tensors.TensorPrimitives.Add(sum, term[colour], sum);
        }
    }
}
