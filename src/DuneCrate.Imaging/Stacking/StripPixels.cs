using System.Numerics.Tensors;
using DuneCrate.Exr;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging.Stacking.Looks;
using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Imaging.Stacking;

/// <summary>
/// All of a strip at one frame, kept so that opacity, gain, operation and order change without reading again. Planes are row-major floats
/// on the grid of the composite, width × height. Safe to share.
/// </summary>
public sealed class StripPixels
{
    /// <summary>Share of empty pixels with colour that premultiplied emission and reflection may well have; common practice.</summary>
    private const double Tolerated = 0.01;

    private readonly float[][] _colour;
    private readonly float[]? _alpha,
        _mask;

    private StripPixels(int width, int height, float[][] colour, float[]? alpha, float[]? mask, string? problem) =>
        (Width, Height, _colour, _alpha, _mask, Problem) = (width, height, colour, alpha, mask, problem);

    /// <summary>Samples across.</summary>
    public int Width { get; }

    /// <summary>Samples down.</summary>
    public int Height { get; }

    /// <summary>What is lost of it or odd about it, or null.</summary>
    public string? Problem { get; }

    /// <summary>Bytes that it takes.</summary>
    public long Bytes => sizeof(float) * (long)Width * Height * ((IsGrey ? 1 : 3) + (_alpha is null ? 0 : 1) + (_mask is null ? 0 : 1));

    private bool IsGrey => _colour[0] == _colour[1];

    internal ReadOnlySpan<float> Colour(int colour) => _colour[colour];

    internal ReadOnlySpan<float> Alpha => _alpha;

    internal ReadOnlySpan<float> Mask => _mask;

    /// <summary>What of a strip these pixels depend on; strips that have it alike have the same pixels at the same frame.</summary>
    public static string KeyOf(StackStrip strip) =>
        $"{strip.Root}|{strip.Source}|{string.Join(',', strip.Channels)}|{strip.Alpha == AlphaMode.None}|{strip.Look?.ReadsData}"
        + $"|{strip.Mask}";

    /// <summary>Reads a strip.</summary>
    /// <param name="strip">The strip.</param>
    /// <param name="folder">The folder that its source is relative to.</param>
    /// <param name="frame">The frame of the composite.</param>
    /// <param name="width">Pixels of the composite across.</param>
    /// <param name="height">Pixels down.</param>
    /// <param name="shrink">Pixels that one sample stands for, across and down: their mean, of data the first of them.</param>
    /// <param name="limits">Bounds on what files may claim.</param>
    /// <param name="cancel">Stops.</param>
    /// <exception cref="ImageException">A file is not there or cannot be read; the message says which.</exception>
    public static StripPixels Read(
        StackStrip strip,
        StoragePath folder,
        int frame,
        int width,
        int height,
        int shrink,
        ReadLimits limits,
        CancellationToken cancel
    )
    {
        using StripFileRows rows = StripFileRows.Open(strip, folder, frame, width, height, limits);
        return Read(strip, rows, width, height, shrink, cancel);
    }

    internal static StripPixels Read(StackStrip strip, IStripRows rows, int width, int height, int shrink, CancellationToken cancel)
    {
        bool isGrey = StackRecipe.ColoursOf(strip) == 1,
            isMean = strip.Look?.ReadsData != true;
        int across = PicturePlanes.Across(width, shrink),
            down = PicturePlanes.Across(height, shrink);
        float[] Plane() => new float[checked(across * down)];
        float[] first = Plane();
        float[][] colour = StackRecipe.ColoursOf(strip) switch
        {
            1 => [first, first, first],
            _ => [first, Plane(), Plane()],
        };
        float[]? alpha = strip.Alpha == AlphaMode.None || StackRecipe.AlphaOf(strip) is null ? null : Plane(),
            mask = strip.Mask is null ? null : Plane();
        var row = new StripRow(width);
        (float[] Plane, float[] Line)[] pairs =
        [
            .. Enumerable.Range(0, isGrey ? 1 : 3).Select(c => (colour[c], row.Colour[c])),
            .. alpha is null ? [] : new[] { (alpha, row.Alpha) },
            .. mask is null ? [] : new[] { (mask, row.Mask) },
        ];
        for (int y = 0; y < height; y++)
        {
            if (!isMean && y % shrink > 0)
            {
                continue;
            }

            rows.Read(y, row, cancel);
            foreach ((float[] plane, float[] line) in pairs)
            {
                Add(line, plane.AsSpan(y / shrink * across, across), shrink, isMean);
            }
        }

        if (isMean && shrink > 1)
        {
            foreach ((float[] plane, _) in pairs)
            {
                PicturePlanes.Divide(plane, PixelBox.OfSize(width, height), across, shrink);
            }
        }

        return new StripPixels(across, down, colour, alpha, mask, rows.Problem ?? rows.OtherSize);
    }

    private static void Add(ReadOnlySpan<float> line, Span<float> to, int shrink, bool isMean)
    {
        if (shrink == 1)
        {
            line.CopyTo(to);
            return;
        }

        for (int x = 0; x < to.Length; x++)
        {
            to[x] = isMean
                ? to[x] + TensorPrimitives.Sum(line.Slice(x * shrink, Math.Min(shrink, line.Length - x * shrink)))
                : line[x * shrink];
        }
    }

    /// <summary>
    /// How colour goes with alpha at soft edges, where reading it the wrong way draws a rim; null where nothing is odd, or nothing is soft.
    /// Common practice: premultiplied colour seldom exceeds its alpha there, straight colour usually does.
    /// </summary>
    /// <param name="mode">How the strip says it is.</param>
    public string? Rim(AlphaMode mode)
    {
        if (_alpha is null)
        {
            return null;
        }

        AlphaFacts facts = SoftAlpha.Of(_colour, _alpha);
        return mode == AlphaMode.Premultiplied && facts.LooksStraight(Tolerated)
                ? "its colour goes on where alpha is 0, as straight colour does: laid in as premultiplied it draws a bright rim"
            : mode == AlphaMode.Straight && facts is { LooksPremultiplied: true, Lit: 0 }
                ? "its colour never exceeds alpha, as premultiplied colour does not: multiplied by alpha once more it draws a dark rim"
            : null;
    }

    /// <summary>Circles of confusion of a focus over these distances, in samples.</summary>
    /// <param name="look">The lens.</param>
    public float[] CirclesOf(StripLook look) => LookPixels.Circles(look, this);

    /// <summary>The lines of it.</summary>
    internal IStripRows Rows() => new KeptRows(this);

    private sealed class KeptRows(StripPixels pixels) : IStripRows
    {
        public long ReadingBytes => 0;

        public string? Problem => pixels.Problem;

        public string? OtherSize => null;

        public KeptLine? Peek(int line) =>
            pixels._alpha is { } alpha && pixels._mask is null ? new KeptLine(pixels._colour, alpha, line * pixels.Width) : null;

        public void Read(int line, StripRow row, CancellationToken cancel)
        {
            int from = line * pixels.Width;
            for (int c = 0; c < 3; c++)
            {
                pixels._colour[c].AsSpan(from, pixels.Width).CopyTo(row.Colour[c]);
            }

            Put(pixels._alpha, from, row.Alpha);
            Put(pixels._mask, from, row.Mask);
        }

        private static void Put(float[]? plane, int from, Span<float> to)
        {
            if (plane is null)
            {
                to.Fill(1);
            }
            else
            {
                plane.AsSpan(from, to.Length).CopyTo(to);
            }
        }

        public void Dispose() { }
    }
}
