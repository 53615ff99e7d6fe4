using System.Collections.Immutable;
using System.Numerics.Tensors;
using System.Runtime.ExceptionServices;
using DuneCrate.Exr;

namespace DuneCrate.Imaging;

/// <summary>Channels of a picture of any format, in memory.</summary>
/// <param name="Planes">By channel: pixels of <paramref name="Window"/> shrunk by <paramref name="Shrink"/>, row-major, top line first; 8-
/// and 16-bit samples stand for 0..1. Lost lines are 0.</param>
/// <param name="Window">The part of the data window that was read.</param>
/// <param name="Shrink">How many pixels across and down one sample stands for: 1 for every pixel. The last of a line or column may stand
/// for fewer.</param>
/// <param name="IsEncoded">Whether colours are stored along the sRGB curve, as 8- and 16-bit pictures have them (common practice).</param>
/// <param name="Problem">What is lost, or null.</param>
public sealed record PicturePlanes(
    ImmutableDictionary<string, float[]> Planes,
    PixelBox Window,
    int Shrink,
    bool IsEncoded,
    string? Problem
)
{
    /// <summary>By line of samples: whether nothing of it could be read. Empty when all could.</summary>
    public ImmutableArray<bool> Lost { get; init; } = [];

    /// <summary>Bytes that the planes take.</summary>
    public long Bytes => Planes.Values.Sum(p => p.LongLength * sizeof(float));

    /// <summary>Samples across.</summary>
    public int Width => Across(Window.Width, Shrink);

    /// <summary>Samples down.</summary>
    public int Height => Across(Window.Height, Shrink);

    /// <summary>Reads the channels that are asked for, as far as the file has them.</summary>
    /// <param name="lines">The picture, opened for these channels and not read yet.</param>
    /// <param name="shrink">How many pixels one sample is to stand for, across and down.</param>
    /// <param name="isMean">Whether a sample is the mean of its pixels, as colour wants it; else the first of them, since means of data and
    /// ids are values that are nowhere.</param>
    /// <param name="box">The part to read, in data window coordinates; the whole window when null.</param>
    /// <param name="cancel">Stops.</param>
    /// <exception cref="ImageException">The pixels are of a kind that is not read.</exception>
    public static PicturePlanes Read(PictureLines lines, int shrink, bool isMean, PixelBox? box, CancellationToken cancel)
    {
        PixelBox window = box is { } part ? lines.Window.Intersect(part) : lines.Window;
        int width = Across(window.Width, shrink),
            height = Across(window.Height, shrink),
            left = window.MinX - lines.Window.MinX;
        float[][] whole = [.. lines.Channels.Select(_ => new float[lines.Window.Width])];
        float[][] planes = [.. lines.Channels.Select(_ => new float[checked(width * height)])];
        bool[] read = new bool[height];
        bool isSummed = isMean && shrink > 1;
        float[][] sums = [.. lines.Channels.Select(_ => new float[isSummed ? window.Width : 0])];
        for (int y = window.MinY; y <= window.MaxY; y++)
        {
            int row = (y - window.MinY) / shrink,
                inRow = (y - window.MinY) % shrink;
            if (inRow > 0 && !isMean)
            {
                continue;
            }

            read[row] |= lines.Read(y, whole, cancel);
            for (int c = 0; c < planes.Length; c++)
            {
                ReadOnlySpan<float> line = whole[c].AsSpan(left, (int)window.Width);
                if (isSummed)
                {
                    // Lines are summed first, which is quick; across it is done once for all lines of a sample.
                    TensorPrimitives.Add(line, sums[c], sums[c]);
                    if (inRow < shrink - 1 && y < window.MaxY)
                    {
                        continue;
                    }

                    line = sums[c];
                }

                Shorten(line, planes[c].AsSpan(row * width, width), shrink, isMean);
                Array.Clear(sums[c]);
            }
        }

        if (isMean && shrink > 1)
        {
            foreach (float[] plane in planes)
            {
                Divide(plane, window, width, shrink);
            }
        }

        return new PicturePlanes(
            lines.Channels.Index().ToImmutableDictionary(c => c.Item, c => planes[c.Index]),
            window,
            shrink,
            lines.IsEncoded,
            lines.Problem
        )
        {
            Lost = Array.TrueForAll(read, r => r) ? [] : [.. read.Select(r => !r)],
        };
    }

    /// <summary>The same, with bands of lines read side by side, each by a reader of its own.</summary>
    /// <param name="open">Opens the picture; called once for each band.</param>
    /// <param name="bands">How many.</param>
    /// <param name="shrink">As for <see cref="Read"/>.</param>
    /// <param name="isMean">As for <see cref="Read"/>.</param>
    /// <param name="box">The part to read, within the data window.</param>
    /// <param name="cancel">Stops.</param>
    public static PicturePlanes ReadInBands(
        Func<PictureLines> open,
        int bands,
        int shrink,
        bool isMean,
        PixelBox box,
        CancellationToken cancel
    )
    {
        int rows = Across(box.Height, shrink),
            rowsEach = (rows + bands - 1) / bands;
        var read = new PicturePlanes[(rows + rowsEach - 1) / rowsEach];
        try
        {
            Parallel.For(
                0,
                read.Length,
                new ParallelOptions { CancellationToken = cancel, MaxDegreeOfParallelism = bands },
                i =>
                {
                    int top = box.MinY + i * rowsEach * shrink;
                    using PictureLines lines = open();
                    read[i] = Read(
                        lines,
                        shrink,
                        isMean,
                        box with
                        {
                            MinY = top,
                            MaxY = (int)Math.Min(box.MaxY, top + (long)rowsEach * shrink - 1),
                        },
                        cancel
                    );
                }
            );
        }
        catch (AggregateException e)
        {
            ExceptionDispatchInfo.Throw(e.InnerExceptions[0]);
        }

        return read[0] with
        {
            Planes = read[0].Planes.ToImmutableDictionary(p => p.Key, p => Joined(read, p.Key)),
            Window = box,
            Problem = read.Select(r => r.Problem).FirstOrDefault(p => p is not null),
            Lost = read.All(r => r.Lost.IsEmpty) ? [] : [.. read.SelectMany(r => r.Lost.IsEmpty ? new bool[r.Height] : [.. r.Lost])],
        };
    }

    /// <summary>
    /// The same at another shrinking, for a part of the window: each sample is the one that lies where its first pixel does, 0 outside.
    /// </summary>
    /// <param name="shrink">How many pixels one sample is to stand for, across and down.</param>
    /// <param name="box">The part, in data window coordinates.</param>
    public PicturePlanes At(int shrink, PixelBox box)
    {
        int width = Across(box.Width, shrink),
            height = Across(box.Height, shrink);
        float[] Piece(float[] plane)
        {
            float[] piece = new float[checked(width * height)];
            for (int y = 0; y < height; y++)
            {
                int line = box.MinY + y * shrink - Window.MinY;
                if (line < 0 || line / Shrink >= Height)
                {
                    continue;
                }

                for (int x = 0; x < width; x++)
                {
                    int column = box.MinX + x * shrink - Window.MinX;
                    if (column >= 0 && column / Shrink < Width)
                    {
                        piece[y * width + x] = plane[line / Shrink * Width + column / Shrink];
                    }
                }
            }

            return piece;
        }

        return this with
        {
            Planes = Planes.ToImmutableDictionary(p => p.Key, p => Piece(p.Value)),
            Window = box,
            Shrink = shrink,
            Lost = Lost.IsEmpty
                ? Lost
                :
                [
                    .. Enumerable
                        .Range(0, height)
                        .Select(y => Lost[(int)Math.Clamp(((long)box.MinY + (long)y * shrink - Window.MinY) / Shrink, 0, Height - 1)]),
                ],
        };
    }

    private static float[] Joined(PicturePlanes[] bands, string channel)
    {
        float[] whole = new float[bands.Sum(b => b.Planes[channel].Length)];
        int at = 0;
        foreach (float[] plane in bands.Select(b => b.Planes[channel]))
        {
            plane.CopyTo(whole, at);
            at += plane.Length;
        }

        return whole;
    }

    /// <summary>Bytes that the planes of some channels would take.</summary>
    public static long BytesOf(PixelBox window, int shrink, int channels) =>
        (long)Across(window.Width, shrink) * Across(window.Height, shrink) * channels * sizeof(float);

    /// <summary>Samples along so many pixels.</summary>
    public static int Across(long pixels, int shrink) => (int)((pixels + shrink - 1) / shrink);

    private static void Shorten(ReadOnlySpan<float> line, Span<float> to, int shrink, bool isMean)
    {
        if (shrink == 1)
        {
            line.CopyTo(to);
            return;
        }

        for (int x = 0; x < to.Length; x++)
        {
            ReadOnlySpan<float> pixels = line.Slice(x * shrink, Math.Min(shrink, line.Length - x * shrink));
            if (!isMean)
            {
                to[x] = pixels[0];
                continue;
            }

            foreach (float pixel in pixels)
            {
                to[x] += pixel;
            }
        }
    }

    /// <summary>Means out of sums of the pixels that each sample stands for.</summary>
    public static void Divide(float[] plane, PixelBox window, int width, int shrink)
    {
        for (int i = 0; i < plane.Length; i++)
        {
            (int row, int column) = Math.DivRem(i, width);
            plane[i] /= Math.Min(shrink, window.Width - (long)column * shrink) * Math.Min(shrink, window.Height - (long)row * shrink);
        }
    }
}
