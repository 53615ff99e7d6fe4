using System.Text.Json.Serialization;
using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;

namespace DuneCrate.Crates.Describing;

/// <summary>
/// Where motion vectors point, found by following them from one frame of the layer's beauty into the next: with the right heading the
/// pixels there look like those that they come from.
/// </summary>
/// <param name="Points">
/// <c>next frame</c> where a vector leads to where its point will be, <c>frame before</c> where it leads to where it was.
/// </param>
/// <param name="Vertical">Where a positive Y leads: <c>down</c> or <c>up</c>; null where nothing moves along Y alone.</param>
public sealed record MotionHeading(string Points, [property: JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)] string? Vertical)
{
    private const string Next = "next frame",
        Before = "frame before",
        Down = "down",
        Up = "up";

    /// <summary>Whether a vector leads to where its point will be.</summary>
    [JsonIgnore]
    public bool IsForward => Points == Next;

    /// <summary>How much less the right heading must be off than the others, of their error. Set on the stand-in's frames.</summary>
    private const double Clear = 0.7;

    private const int FewestPixels = 200,
        MostFollowed = 60_000;
    private const long MostPixels = 2_000_000;
    private const float LeastMove = 0.5f;

    /// <summary>Where the vectors of a pass point; null when it is no motion or cannot be told.</summary>
    internal static MotionHeading? Of(CrateContents contents, PackedPass pass, ReadLimits limits)
    {
        if (
            pass.Facts is null
            || pass.Definition?.Has(PassMeasures.Motion) != true
            || pass.Plan.Channels.Count < 2
            || contents.Sequences.FirstOrDefault(s => s.Passes.Contains(pass)) is not { } sequence
            || contents
                .Sequences.SelectMany(s => s.Passes)
                .FirstOrDefault(p => p.Facts is not null && p.Output.Layer == pass.Output.Layer && p.Definition?.Kind == PassKind.Combined)
                is not { } beauty
        )
        {
            return null;
        }

        int[] frames = [.. sequence.Files.Select(f => f.Frame).Order()],
            pairs = [.. frames.Where(f => Array.BinarySearch(frames, f + 1) >= 0)];
        return pairs.Length == 0
            ? null
            : new[] { pairs[pairs.Length / 2], pairs[0], pairs[^1] }
                .Distinct()
                .Select(frame => At(contents.Folder, pass, beauty, frame, limits))
                .FirstOrDefault(h => h is not null);
    }

    /// <summary>
    /// Where vectors point, of pictures of one size, row-major, top line first; null when no heading is clearly less off than the others.
    /// </summary>
    /// <param name="now">Light of the frame that the vectors belong to.</param>
    /// <param name="next">Light of the frame after it.</param>
    /// <param name="x">Movement to the right, in pixels.</param>
    /// <param name="y">Movement along the lines' order or against it, in pixels.</param>
    /// <param name="width">Pixels in a line.</param>
    internal static MotionHeading? Find(float[] now, float[] next, float[] x, float[] y, int width)
    {
        int height = now.Length / width,
            step = Math.Max(1, now.Length / MostFollowed),
            followed = 0;

        // Forwards and down, forwards and up, backwards and down, backwards and up.
        double[] off = new double[4];
        for (int i = 0; i < now.Length; i += step)
        {
            (float vx, float vy) = (x[i], y[i]);
            if (!(MathF.Abs(vx) + MathF.Abs(vy) >= LeastMove) || !float.IsFinite(vx + vy + now[i]))
            {
                continue;
            }

            (float px, float py) = (i % width, i / width);
            Span<float> there =
            [
                Sample(next, width, height, px + vx, py + vy),
                Sample(next, width, height, px + vx, py - vy),
                Sample(next, width, height, px - vx, py - vy),
                Sample(next, width, height, px - vx, py + vy),
            ];
            bool isSeen = true;
            foreach (float value in there)
            {
                isSeen &= float.IsFinite(value);
            }

            for (int h = 0; isSeen && h < off.Length; h++)
            {
                off[h] += Math.Abs((double)there[h] - now[i]);
            }

            followed += isSeen ? 1 : 0;
        }

        int best = Array.IndexOf(off, off.Min()),
            sense = best / 2,
            other = 2 * (1 - sense);
        return followed < FewestPixels || off[best] >= Clear * Math.Min(off[other], off[other + 1])
            ? null
            : new MotionHeading(
                sense == 0 ? Next : Before,
                off[best] >= Clear * off[best ^ 1] ? null
                    : best % 2 == 0 ? Down
                    : Up
            );
    }

    private static MotionHeading? At(StoragePath folder, PackedPass pass, PackedPass beauty, int frame, ReadLimits limits)
    {
        try
        {
            PicturePlanes coarse = Read(folder, pass, frame, null, limits);
            if (Moving(coarse, pass) is not { } box)
            {
                return null;
            }

            PicturePlanes motion = Read(folder, pass, frame, box, limits),
                now = Read(folder, beauty, frame, box, limits),
                next = Read(folder, beauty, frame + 1, box, limits);
            string[] axes = [.. pass.Plan.Channels.Keys];
            return motion.Window == now.Window && now.Window == next.Window
                ? Find(Light(now), Light(next), motion.Planes[axes[0]], motion.Planes[axes[1]], motion.Width)
                : null;
        }
        catch (Exception e) when (e is ImageException or IOException or UnauthorizedAccessException or KeyNotFoundException)
        {
            // What cannot be read says nothing; what is wrong with it, the check says.
            return null;
        }
    }

    /// <summary>Reads a pass: a part of it pixel by pixel, or the whole shrunk to so few samples that they fit.</summary>
    private static PicturePlanes Read(StoragePath folder, PackedPass pass, int frame, PixelBox? box, ReadLimits limits)
    {
        StoragePath file = folder.At(pass.Output.Name.At(frame));
        using var lines = PictureLines.Open(file, pass.Facts!.Format, [.. pass.Plan.Channels.Keys], limits, pass.Output.Held);
        int shrink = box is null ? (int)Math.Ceiling(Math.Sqrt(lines.Window.Width * lines.Window.Height / (double)MostPixels)) : 1;
        return PicturePlanes.Read(lines, Math.Max(1, shrink), isMean: false, box, default);
    }

    /// <summary>As much as fits of the least box around all that moves; null when nothing does.</summary>
    private static PixelBox? Moving(PicturePlanes coarse, PackedPass pass)
    {
        float[][] axes = [.. pass.Plan.Channels.Keys.Take(2).Select(c => coarse.Planes[c])];
        (int left, int top, int right, int bottom) = (int.MaxValue, int.MaxValue, -1, -1);
        for (int i = 0; i < axes[0].Length; i++)
        {
            if (MathF.Abs(axes[0][i]) + MathF.Abs(axes[1][i]) >= LeastMove)
            {
                (int row, int column) = Math.DivRem(i, coarse.Width);
                (left, right) = (Math.Min(left, column), Math.Max(right, column));
                (top, bottom) = (Math.Min(top, row), Math.Max(bottom, row));
            }
        }

        if (right < 0)
        {
            return null;
        }

        (int width, int height) = ((right - left + 1) * coarse.Shrink, (bottom - top + 1) * coarse.Shrink);
        double fits = Math.Min(1, Math.Sqrt(MostPixels / ((double)width * height)));
        (int x, int y) = (coarse.Window.MinX + left * coarse.Shrink, coarse.Window.MinY + top * coarse.Shrink);
        (int inX, int inY) = ((int)(width * (1 - fits) / 2), (int)(height * (1 - fits) / 2));
        return new PixelBox(x + inX, y + inY, x + width - 1 - inX, y + height - 1 - inY).Intersect(coarse.Window);
    }

    private static float[] Light(PicturePlanes planes)
    {
        float[][] colour = [.. planes.Planes.Where(p => !ChannelNames.IsAlpha(p.Key)).Select(p => p.Value)];
        float[] light = new float[colour[0].Length];
        for (int i = 0; i < light.Length; i++)
        {
            foreach (float[] plane in colour)
            {
                light[i] += plane[i];
            }
        }

        return light;
    }

    /// <summary>The picture between its pixels; NaN outside.</summary>
    private static float Sample(float[] picture, int width, int height, float x, float y)
    {
        // Asked of the floats: a vector may be longer than any whole number.
        if (!(x >= 0 && y >= 0 && x < width - 1 && y < height - 1))
        {
            return float.NaN;
        }

        (int left, int top) = ((int)x, (int)y);
        (float u, float v) = (x - left, y - top);
        int at = top * width + left;
        float above = picture[at] + u * (picture[at + 1] - picture[at]),
            below = picture[at + width] + u * (picture[at + width + 1] - picture[at + width]);
        return above + v * (below - above);
    }
}
