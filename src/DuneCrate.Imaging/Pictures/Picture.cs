using NetVips;

namespace DuneCrate.Imaging.Pictures;

/// <summary>A picture for people: width × height × 3 bytes, sRGB, row-major, top line first.</summary>
public sealed record Picture(int Width, int Height, byte[] Rgb)
{
    /// <summary>The picture as PNG, written by libvips.</summary>
    /// <param name="width">Width to shrink to, or 0 for the picture's own.</param>
    /// <param name="isPacked">Whether its bytes are to be few; else they are stored, which takes a third of the time.</param>
    public byte[] ToPng(int width = 0, bool isPacked = true)
    {
        (int effort, Enums.ForeignPngFilter filter) = isPacked ? (1, Enums.ForeignPngFilter.Sub) : (0, Enums.ForeignPngFilter.None);
        using Image image = Image.NewFromMemory(Rgb, Width, Height, 3, Enums.BandFormat.Uchar);
        if (width <= 0 || width >= Width)
        {
            return image.PngsaveBuffer(compression: effort, filter: filter);
        }

        using Image small = image.Resize((double)width / Width, kernel: Enums.Kernel.Linear);
        return small.PngsaveBuffer(compression: effort, filter: filter);
    }

    /// <summary>The picture with another of the same size laid over it at half strength.</summary>
    public Picture Under(Picture other)
    {
        byte[] both = new byte[Rgb.Length];
        for (int i = 0; i < both.Length; i++)
        {
            both[i] = (byte)((Rgb[i] + other.Rgb[i]) / 2);
        }

        return this with
        {
            Rgb = both,
        };
    }

    /// <summary>
    /// A piece of the picture enlarged without smoothing, with a frame around one pixel: the pixel stands in the middle, or as near to it
    /// as the picture's edges allow.
    /// </summary>
    /// <param name="x">Column of the pixel, 0 at the left; brought into the picture.</param>
    /// <param name="y">Line of the pixel, 0 at the top; brought into the picture.</param>
    /// <param name="width">Width of the piece in pixels; at most the picture's is taken.</param>
    /// <param name="height">Height of the piece.</param>
    /// <param name="times">How many times it is enlarged, at least 3.</param>
    public Picture Around(int x, int y, int width, int height, int times)
    {
        (width, height) = (Math.Min(width, Width), Math.Min(height, Height));
        (x, y) = (Math.Clamp(x, 0, Width - 1), Math.Clamp(y, 0, Height - 1));
        int left = Math.Clamp(x - width / 2, 0, Width - width),
            top = Math.Clamp(y - height / 2, 0, Height - height);
        byte[] piece = new byte[width * times * height * times * 3];
        for (int row = 0; row < height * times; row++)
        {
            int line = ((top + row / times) * Width + left) * 3;
            for (int column = 0; column < width * times; column++)
            {
                Rgb.AsSpan(line + column / times * 3, 3).CopyTo(piece.AsSpan((row * width * times + column) * 3));
            }
        }

        // White within black: seen on every ground.
        Box(piece, width * times, height * times, (x - left) * times - 2, (y - top) * times - 2, times + 4, 0);
        Box(piece, width * times, height * times, (x - left) * times - 1, (y - top) * times - 1, times + 2, 255);
        return new Picture(width * times, height * times, piece);
    }

    private static void Box(byte[] rgb, int width, int height, int left, int top, int side, byte value)
    {
        for (int i = 0; i < side; i++)
        {
            foreach ((int x, int y) in new[] { (left + i, top), (left + i, top + side - 1), (left, top + i), (left + side - 1, top + i) })
            {
                if (x >= 0 && y >= 0 && x < width && y < height)
                {
                    rgb.AsSpan((y * width + x) * 3, 3).Fill(value);
                }
            }
        }
    }
}
