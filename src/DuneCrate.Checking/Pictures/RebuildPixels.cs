using System.Collections.Immutable;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Rebuild;
using DuneCrate.Exr;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Checking.Pictures;

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
/// <param name="High">99 of 100 pixels are no farther from the beauty in their worst colour, to the precision of half.</param>
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
    private const double HighShare = 0.99;

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
            worst = new float[wide];
        int[] spread = new int[BitConverter.HalfToUInt16Bits(Half.PositiveInfinity) + 1];
        var measure = new RebuildMeasure(recipe, wide, fitsAll: true);
        var weighted = new WeightedTerms(weights, wide);
        for (int y = window.MinY; y <= window.MaxY; y++)
        {
            lines.Read(y, cancel);
            float[][][] terms = weighted.Of(lines.Terms);
            measure.AddLine(lines.Beauty, terms, window.MinX, y, ReferenceEquals(terms, lines.Terms) ? lines.Factors : null);
            int row = (y - window.MinY) / shrink * width;
            Array.Clear(worst);
            for (int colour = 0; colour < 3; colour++)
            {
                Add(terms, colour, sum);
                for (int x = 0; x < wide; x++)
                {
                    int at = row + x / shrink;
                    float size = MathF.Abs(lines.Beauty[colour][x] - sum[x]);
                    sums[colour][at] += sum[x];
                    beauties[colour][at] += lines.Beauty[colour][x];
                    residual[at] = size > residual[at] || !float.IsFinite(size) ? size : residual[at];
                    worst[x] = MathF.Max(worst[x], float.IsFinite(size) ? size : 0);
                }
            }

            foreach (float value in worst)
            {
                spread[BitConverter.HalfToUInt16Bits((Half)value)]++;
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
                [.. measure.Fitted()],
                HighOf(spread, wide * window.Height)
            );
    }

    /// <summary>The 99th percentile of values that were counted by their bits as halves.</summary>
    private static double HighOf(int[] counts, long pixels) =>
        PercentileSketch.Compute(counts.Select((count, bits) => ((double)BitConverter.UInt16BitsToHalf((ushort)bits), count)), pixels)[
            PercentileSketch.Shares.IndexOf(HighShare)
        ];

    private static void Add(float[][][] terms, int colour, float[] sum)
    {
        Array.Clear(sum);
        foreach (float[][] term in terms)
        {
            System.Numerics.Tensors.TensorPrimitives.Add(sum, term[colour], sum);
        }
    }
}
