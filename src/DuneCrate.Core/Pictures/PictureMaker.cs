using System.Numerics.Tensors;
using DuneCrate.Core.Images;
using DuneCrate.Core.Passes;

namespace DuneCrate.Core.Pictures;

/// <summary>
/// Makes pictures for people. Colour gets exposure and the sRGB view transform (IEC 61966-2-1); masks and factors of light are shown as
/// they are; data is mapped between near and far; directions as 0.5 + 0.5 v; ids as colours far apart. Samples that are no numbers
/// are shown in a colour that no picture has by chance.
/// </summary>
public static class PictureMaker
{
    private const int CurveSteps = 4096;

    private static readonly byte[] Curve =
    [
        .. Enumerable.Range(0, CurveSteps + 1).Select(i => (byte)Math.Round(255 * SrgbCurve.Encode((double)i / CurveSteps))),
    ];
    private static readonly byte[] NotANumber = [255, 0, 170];

    /// <summary>The picture of a pass.</summary>
    public static Picture Render(PassPixels pass, PictureSettings settings)
    {
        byte[] rgb = new byte[pass.Width * pass.Height * 3];
        if (pass.Channels.IsEmpty)
        {
            return new Picture(pass.Width, pass.Height, rgb);
        }

        PassKind kind = pass.Definition?.Kind ?? PassKind.Look;
        float[][] planes = Chosen(pass, settings.Solo);
        if (kind == PassKind.Identity)
        {
            Ids(pass.Channels[0].Plane, rgb);
        }
        else if (pass.Definition?.Has(PassMeasures.Normal) == true && settings.Solo.Length == 0 && pass.Channels.Length >= 3)
        {
            Fill(rgb, planes, v => Clamp(0.5f + 0.5f * v));
        }
        else if (kind == PassKind.Data)
        {
            Ramp(rgb, planes, settings);
        }
        else if (kind == PassKind.Mask || (kind == PassKind.Modulate && settings.Exposure == 0))
        {
            Fill(rgb, planes, Clamp);
        }
        else
        {
            float gain = (float)Math.Pow(2, settings.Exposure);
            Fill(rgb, planes, v => View(v * gain));
        }

        return new Picture(pass.Width, pass.Height, rgb);
    }

    /// <summary>
    /// A heat picture of a residual: neutral dark where it is 0, through teal and sand to white at <paramref name="full"/> and above.
    /// </summary>
    public static Picture Heat(float[] residual, int width, int height, double full)
    {
        byte[] rgb = new byte[width * height * 3];
        for (int i = 0; i < residual.Length; i++)
        {
            if (!float.IsFinite(residual[i]))
            {
                NotANumber.CopyTo(rgb, i * 3);
                continue;
            }

            double t = Math.Min(1, residual[i] / full);
            (double r, double g, double b) =
                t < 0.33 ? Mix((34, 36, 40), (32, 110, 116), t / 0.33)
                : t < 0.67 ? Mix((32, 110, 116), (214, 168, 92), (t - 0.33) / 0.34)
                : Mix((214, 168, 92), (255, 252, 244), (t - 0.67) / 0.33);
            (rgb[3 * i], rgb[3 * i + 1], rgb[3 * i + 2]) = ((byte)r, (byte)g, (byte)b);
        }

        return new Picture(width, height, rgb);
    }

    private static (double, double, double) Mix((double R, double G, double B) a, (double R, double G, double B) b, double t) =>
        (a.R + (b.R - a.R) * t, a.G + (b.G - a.G) * t, a.B + (b.B - a.B) * t);

    /// <summary>Three planes for red, green and blue; one is used for all three.</summary>
    private static float[][] Chosen(PassPixels pass, string solo)
    {
        if (
            solo.Length > 0
            && pass.Channels.FirstOrDefault(c => c.Channel.EndsWith(solo, StringComparison.OrdinalIgnoreCase)).Plane is { } alone
        )
        {
            return [alone, alone, alone];
        }

        float[][] planes = [.. pass.Channels.Take(3).Select(c => c.Plane)];
        return planes.Length switch
        {
            1 => [planes[0], planes[0], planes[0]],
            2 => [planes[0], planes[1], planes[0]],
            _ => planes,
        };
    }

    private static void Fill(byte[] rgb, float[][] planes, Func<float, byte> show)
    {
        for (int c = 0; c < 3; c++)
        {
            float[] plane = planes[c];
            for (int i = 0; i < plane.Length; i++)
            {
                rgb[3 * i + c] = float.IsFinite(plane[i]) ? show(plane[i]) : NotANumber[c];
            }
        }
    }

    private static void Ramp(byte[] rgb, float[][] planes, PictureSettings settings)
    {
        for (int c = 0; c < 3; c++)
        {
            (float near, float far) = Range(planes[c]);
            (near, far) = ((float)(settings.Near ?? near), (float)(settings.Far ?? far));
            float scale = far > near ? 1 / (far - near) : 0;
            float[] plane = planes[c];
            for (int i = 0; i < plane.Length; i++)
            {
                rgb[3 * i + c] = float.IsFinite(plane[i]) ? Clamp((plane[i] - near) * scale) : NotANumber[c];
            }
        }
    }

    /// <summary>Least and greatest finite value; the greatest is left out when it is a far plane that fills the background.</summary>
    public static (float Near, float Far) Range(float[] plane)
    {
        float near = float.PositiveInfinity,
            far = float.NegativeInfinity,
            top = TensorPrimitives.Max<float>(plane);
        foreach (float value in plane)
        {
            if (float.IsFinite(value))
            {
                near = Math.Min(near, value);
                far = value < top ? Math.Max(far, value) : far;
            }
        }

        return float.IsInfinity(near) ? (0, 1)
            : float.IsInfinity(far) ? (near, near + 1)
            : (near, top > 4 * Math.Abs(far) ? far : top);
    }

    private static void Ids(float[] plane, byte[] rgb)
    {
        for (int i = 0; i < plane.Length; i++)
        {
            uint bits = BitConverter.SingleToUInt32Bits(plane[i]);
            if (bits != 0)
            {
                uint mixed = bits * 2654435761u;
                mixed ^= mixed >> 15;
                (rgb[3 * i], rgb[3 * i + 1], rgb[3 * i + 2]) = (
                    (byte)(70 + (mixed & 127)),
                    (byte)(70 + ((mixed >> 8) & 127)),
                    (byte)(70 + ((mixed >> 16) & 127))
                );
            }
        }
    }

    private static byte View(float linear) => Curve[(int)(Math.Clamp(linear, 0f, 1f) * CurveSteps + 0.5f)];

    private static byte Clamp(float value) => (byte)(Math.Clamp(value, 0f, 1f) * 255 + 0.5f);
}
