using DuneCrate.Imaging.Pictures;
using NetVips;

namespace DuneCrate.Imaging.Stacking;

/// <summary>Pictures of 8-bit sRGB with straight alpha: 4 bytes a pixel, row-major, top line first.</summary>
internal static class StraightRgba
{
    /// <summary>A line of colour times alpha as such bytes.</summary>
    /// <param name="to">Becomes them.</param>
    /// <param name="colour">Red, green and blue, times alpha.</param>
    /// <param name="alpha">Alpha.</param>
    public static void Row(Span<byte> to, float[][] colour, float[] alpha)
    {
        CodeTable codes = CodeTable.Of(PictureView.Srgb, 0, 1);
        for (int x = 0; x < alpha.Length; x++)
        {
            float a = Math.Clamp(alpha[x], 0, 1);
            for (int c = 0; c < 3; c++)
            {
                to[4 * x + c] = codes[a > 0 ? colour[c][x] / a : 0];
            }

            to[4 * x + 3] = (byte)Math.Round(255 * a);
        }
    }

    /// <summary>Such a picture as PNG, its longest side shrunk to <paramref name="side"/> where that is not 0.</summary>
    public static byte[] Png(byte[] rgba, int width, int height, int side)
    {
        using Image whole = Image
            .NewFromMemory(rgba, width, height, 4, Enums.BandFormat.Uchar)
            .Copy(interpretation: Enums.Interpretation.Srgb);
        if (side == 0 || Math.Max(width, height) <= side)
        {
            return whole.PngsaveBuffer(compression: 1);
        }

        using Image small = whole.ThumbnailImage(side, height: side);
        return small.PngsaveBuffer(compression: 6);
    }
}
