using DuneCrate.Imaging.Pictures;

namespace DuneCrate.Imaging.Stacking;

/// <summary>A strip as a stratum: the one line of its pixels at the probe's height, with what its mask cuts out of it.</summary>
public static class Stratum
{
    /// <summary>The line as a PNG of one pixel's height; data is shown grey between its least and greatest value.</summary>
    /// <param name="strip">The strip.</param>
    /// <param name="pixels">Its pixels.</param>
    /// <param name="line">The line of samples, brought into the picture.</param>
    public static byte[] Png(StackStrip strip, StripPixels pixels, int line)
    {
        using IStripRows rows = pixels.Rows();
        var lines = new StripLines(strip with { Opacity = 1 }, rows, pixels.Width);
        lines.Read(Math.Clamp(line, 0, pixels.Height - 1), default);
        byte[] rgba = new byte[4 * pixels.Width];
        if (strip.Look?.ReadsData == true)
        {
            Grey(lines.Colour, strip.Look.Kind == Looks.LookKind.Blur);
        }

        StraightRgba.Row(rgba, lines.Colour, lines.Alpha);
        for (int x = 0; x < pixels.Width; x++)
        {
            rgba[4 * x + 3] = (byte)Math.Round(rgba[4 * x + 3] * Math.Clamp(lines.Weight[x], 0, 1));
        }

        return StraightRgba.Png(rgba, pixels.Width, 1, 0);
    }

    private static void Grey(float[][] colour, bool isLength)
    {
        float[] values = isLength ? [.. colour[0].Zip(colour[1], (x, y) => MathF.Sqrt(x * x + y * y))] : [.. colour[0]];
        (float near, float far) = PictureMaker.Range(values);
        foreach (float[] plane in colour)
        {
            for (int x = 0; x < plane.Length; x++)
            {
                plane[x] = far > near ? Math.Clamp((values[x] - near) / (far - near), 0, 1) : 0;
            }
        }
    }
}
