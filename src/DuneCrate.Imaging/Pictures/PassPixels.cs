using System.Collections.Immutable;
using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging.Colour;

namespace DuneCrate.Imaging.Pictures;

/// <summary>
/// The pixels of one pass at one frame: its channels in the plan's order, each width × height floats, row-major, top line first.
/// </summary>
/// <param name="Pass">Key of the pass.</param>
/// <param name="Definition">Its entry in the catalogue, or null.</param>
/// <param name="Window">The part of the data window that was read.</param>
/// <param name="Shrink">How many pixels across and down one sample stands for.</param>
/// <param name="Channels">Channels with their planes.</param>
/// <param name="Problem">What is lost of it, or null.</param>
public sealed record PassPixels(
    string Pass,
    PassDefinition? Definition,
    PixelBox Window,
    int Shrink,
    ImmutableArray<(string Channel, float[] Plane)> Channels,
    string? Problem
)
{
    /// <summary>By line: whether nothing of it could be read. Empty when all could.</summary>
    public ImmutableArray<bool> Lost { get; init; } = [];

    /// <summary>Samples across.</summary>
    public int Width => PicturePlanes.Across(Window.Width, Shrink);

    /// <summary>Samples down.</summary>
    public int Height => PicturePlanes.Across(Window.Height, Shrink);

    /// <summary>Bytes that the planes take.</summary>
    public long Bytes => Channels.Sum(c => c.Plane.LongLength * sizeof(float));

    /// <summary>The pixels of a pass as they were read: colour of 8 and 16 bits becomes scene-linear.</summary>
    /// <param name="picture">What was read.</param>
    /// <param name="pass">Key of the pass.</param>
    /// <param name="definition">Its entry in the catalogue, or null: then it counts as colour.</param>
    /// <param name="channels">The channels in the order that they are shown in; those that are not there are left out.</param>
    public static PassPixels From(PicturePlanes picture, string pass, PassDefinition? definition, IEnumerable<string> channels)
    {
        bool isEncoded = picture.IsEncoded && definition?.IsColour != false;
        return new PassPixels(
            pass,
            definition,
            picture.Window,
            picture.Shrink,
            [
                .. channels
                    .Where(picture.Planes.ContainsKey)
                    .Select(c => (c, isEncoded && !ChannelNames.IsAlpha(c) ? Decoded(picture.Planes[c]) : picture.Planes[c])),
            ],
            picture.Problem
        )
        {
            Lost = picture.Lost,
        };
    }

    private static float[] Decoded(float[] encoded)
    {
        float[] linear = [.. encoded];
        SrgbCurve.Decode(linear);
        return linear;
    }

    /// <summary>The same on another box at full size: 0 where nothing was stored.</summary>
    public PassPixels On(PixelBox box)
    {
        (int width, int height) = (checked((int)box.Width), checked((int)box.Height));
        PixelBox both = box.Intersect(Window);
        int across = both.IsEmpty ? 0 : (int)both.Width;
        float[] Placed(float[] plane)
        {
            float[] placed = new float[checked(width * height)];
            for (int y = both.MinY; y <= both.MaxY && across > 0; y++)
            {
                plane
                    .AsSpan((y - Window.MinY) * Width + both.MinX - Window.MinX, across)
                    .CopyTo(placed.AsSpan((y - box.MinY) * width + both.MinX - box.MinX));
            }

            return placed;
        }

        return box == Window
            ? this
            : this with
            {
                Window = box,
                Channels = [.. Channels.Select(c => (c.Channel, Placed(c.Plane)))],
                Lost = Lost.IsEmpty
                    ? Lost
                    : [.. Enumerable.Range(box.MinY, height).Select(y => y >= Window.MinY && y <= Window.MaxY && Lost[y - Window.MinY])],
            };
    }

    /// <summary>A part of it; what lies outside is left out.</summary>
    /// <param name="left">First sample across.</param>
    /// <param name="top">First line.</param>
    /// <param name="width">Samples across.</param>
    /// <param name="height">Lines.</param>
    public PassPixels Cut(int left, int top, int width, int height)
    {
        (width, height) = (Math.Min(width, Width - left), Math.Min(height, Height - top));
        int whole = Width;
        float[] Piece(float[] plane)
        {
            float[] piece = new float[width * height];
            for (int y = 0; y < height; y++)
            {
                plane.AsSpan((top + y) * whole + left, width).CopyTo(piece.AsSpan(y * width));
            }

            return piece;
        }

        return this with
        {
            Window = new PixelBox(
                Window.MinX + left * Shrink,
                Window.MinY + top * Shrink,
                Math.Min(Window.MaxX, Window.MinX + (left + width) * Shrink - 1),
                Math.Min(Window.MaxY, Window.MinY + (top + height) * Shrink - 1)
            ),
            Channels = [.. Channels.Select(c => (c.Channel, Piece(c.Plane)))],
            Lost = Lost.IsEmpty ? Lost : Lost.Slice(top, height),
        };
    }
}
