using System.Numerics.Tensors;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging.Colour;

namespace DuneCrate.Imaging.Pictures;

/// <summary>
/// Makes pictures for people. Colour gets exposure and a view transform; masks and factors of light are shown as they are; data is mapped
/// between near and far; directions as 0.5 + 0.5 v; motion as direction and length; ids as colours far apart. Samples that are no numbers
/// are shown in a colour that no picture has by chance, lost lines are hatched.
/// </summary>
public static class PictureMaker
{
    private const int CheckerSide = 8,
        Stripe = 4;
    private const float LightSquare = 0.25f,
        DarkSquare = 0.12f;

    private static readonly byte[] NotANumber = [255, 0, 170],
        Negative = [40, 90, 255],
        Above = [255, 210, 0],
        Hatch = [96, 92, 88],
        HatchLine = [150, 146, 140];

    /// <summary>The picture of a pass.</summary>
    public static Picture Render(PassPixels pass, PictureSettings settings)
    {
        byte[] rgb = new byte[pass.Width * pass.Height * 3];
        var picture = new Picture(pass.Width, pass.Height, rgb);
        if (pass.Channels.IsEmpty)
        {
            return picture;
        }

        PassKind kind = pass.Definition?.Kind ?? PassKind.Look;
        bool isWhole = settings.Solo.Length == 0,
            isRanged = settings.Near is not null || settings.Far is not null;
        float[][] planes = Chosen(pass, settings.Solo);
        if (kind == PassKind.Identity)
        {
            Each(rgb, pass.Channels[0].Plane, FalseColours.OfId);
        }
        else if (pass.Definition?.Has(PassMeasures.Normal) == true && isWhole && !isRanged && pass.Channels.Length >= 3)
        {
            Ramp(rgb, planes, -1, 1);
        }
        else if (pass.Definition?.Has(PassMeasures.Motion) == true && isWhole && settings.Near is null && pass.Channels.Length >= 2)
        {
            Vectors(rgb, pass.Channels[0].Plane, pass.Channels[1].Plane, (float?)settings.Far);
        }
        else if (isRanged || kind == PassKind.Data)
        {
            Ranged(rgb, planes, settings);
        }
        else
        {
            bool isPlain = kind == PassKind.Mask || (kind == PassKind.Modulate && settings.Exposure == 0) || IsAlpha(settings.Solo);
            Colour(rgb, pass, planes, settings, settings.View ?? (isPlain ? PictureView.Plain : PictureView.Srgb));
        }

        MarkOdd(rgb, pass, planes, settings);
        MarkLost(rgb, pass);
        return picture;
    }

    /// <summary>
    /// A heat picture of a residual: neutral dark where it is 0, through teal and sand to white at <paramref name="full"/> and above.
    /// </summary>
    public static Picture Heat(float[] residual, int width, int height, double full)
    {
        byte[] rgb = new byte[width * height * 3];
        Each(rgb, residual, v => float.IsFinite(v) ? FalseColours.Heat(v / full) : (NotANumber[0], NotANumber[1], NotANumber[2]));
        return new Picture(width, height, rgb);
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

    private static bool IsAlpha(string solo) => solo.Equals("a", StringComparison.OrdinalIgnoreCase);

    private static void Colour(byte[] rgb, PassPixels pass, float[][] planes, PictureSettings settings, PictureView view)
    {
        CodeTable table = CodeTable.Of(view, settings.Exposure, settings.Gamma);
        float[]? alpha = pass.Channels.Length == 4 && settings.Solo.Length == 0 ? pass.Channels[3].Plane : null;
        bool isLaidOver = alpha is not null && (settings.Ground != PictureGround.Black || settings.IsStraight);
        ColourMatrix matrix =
            settings.Primaries is not null && view is PictureView.Srgb or PictureView.Rec709
                ? ColourMatrix.Between(settings.Primaries, Primaries.Rec709)
                : ColourMatrix.Identity;
        if (!isLaidOver && matrix == ColourMatrix.Identity && settings.Mode == PictureMode.Colour)
        {
            for (int c = 0; c < 3; c++)
            {
                float[] plane = planes[c];
                for (int i = 0, at = c; i < plane.Length; i++, at += 3)
                {
                    rgb[at] = table[plane[i]];
                }
            }

            return;
        }

        if (!isLaidOver && settings.Mode == PictureMode.Colour)
        {
            Mixed(rgb, planes, matrix, table);
            return;
        }

        ColourMatrix weights = ColourMatrix.ToXyz(settings.Primaries ?? Primaries.Rec709);
        float gain = (float)Math.Pow(2, settings.Exposure);
        for (int y = 0, i = 0; y < pass.Height; y++)
        {
            for (int x = 0; x < pass.Width; x++, i++)
            {
                (float r, float g, float b) = (planes[0][i], planes[1][i], planes[2][i]);
                if (isLaidOver)
                {
                    float a = alpha![i],
                        times = settings.IsStraight ? a : 1,
                        ground = (1 - a) * Ground(settings.Ground, pass, x, y) / gain;
                    (r, g, b) = (r * times + ground, g * times + ground, b * times + ground);
                }

                if (settings.Mode != PictureMode.Colour)
                {
                    float luminance = (float)(weights.M10 * r + weights.M11 * g + weights.M12 * b);
                    (rgb[3 * i], rgb[3 * i + 1], rgb[3 * i + 2]) =
                        settings.Mode == PictureMode.Stops ? FalseColours.OfLuminance(luminance * gain)
                        : table[luminance] is var grey ? (grey, grey, grey)
                        : default;
                    continue;
                }

                (double dr, double dg, double db) = matrix.Times(r, g, b);
                (rgb[3 * i], rgb[3 * i + 1], rgb[3 * i + 2]) = (table[(float)dr], table[(float)dg], table[(float)db]);
            }
        }
    }

    /// <summary>Colour taken to the display's primaries, with nothing under it.</summary>
    private static void Mixed(byte[] rgb, float[][] planes, ColourMatrix matrix, CodeTable table)
    {
        ReadOnlySpan<float> red = planes[0],
            green = planes[1].AsSpan(0, red.Length),
            blue = planes[2].AsSpan(0, red.Length);
        Span<byte> to = rgb.AsSpan(0, 3 * red.Length);
        for (int i = 0; i < red.Length; i++)
        {
            (double r, double g, double b) = (red[i], green[i], blue[i]);
            to[3 * i] = table[(float)(matrix.M00 * r + matrix.M01 * g + matrix.M02 * b)];
            to[3 * i + 1] = table[(float)(matrix.M10 * r + matrix.M11 * g + matrix.M12 * b)];
            to[3 * i + 2] = table[(float)(matrix.M20 * r + matrix.M21 * g + matrix.M22 * b)];
        }
    }

    private static float Ground(PictureGround ground, PassPixels pass, int x, int y) =>
        ground switch
        {
            PictureGround.Grey => FalseColours.MiddleGrey,
            PictureGround.Checker => (
                (Across(pass.Window.MinX, pass.Shrink) + x) / CheckerSide + (Across(pass.Window.MinY, pass.Shrink) + y) / CheckerSide
            ) % 2
            == 0
                ? LightSquare
                : DarkSquare,
            _ => 0,
        };

    /// <summary>Samples from a far corner, so that patterns of neighbouring tiles fit.</summary>
    private static int Across(int pixel, int shrink) => (pixel + (1 << 24)) / shrink;

    private static void Ranged(byte[] rgb, float[][] planes, PictureSettings settings)
    {
        for (int c = 0; c < 3; c++)
        {
            (float near, float far) = settings is { Near: not null, Far: not null } ? default : Range(planes[c]);
            RampOne(rgb, planes[c], c, (float)(settings.Near ?? near), (float)(settings.Far ?? far));
        }
    }

    private static void Ramp(byte[] rgb, float[][] planes, float near, float far)
    {
        for (int c = 0; c < 3; c++)
        {
            RampOne(rgb, planes[c], c, near, far);
        }
    }

    private static void RampOne(byte[] rgb, float[] plane, int c, float near, float far)
    {
        double scale = far != near ? 255.0 / ((double)far - near) : 0;
        for (int i = 0; i < plane.Length; i++)
        {
            double shown = (plane[i] - near) * scale;
            rgb[3 * i + c] =
                shown >= 255 ? (byte)255
                : shown > 0 ? (byte)(shown + 0.5)
                : (byte)0;
        }
    }

    private static void Vectors(byte[] rgb, float[] across, float[] along, float? far)
    {
        float full = far ?? Math.Max(1e-6f, Lengths(across, along));
        for (int i = 0; i < across.Length; i++)
        {
            (rgb[3 * i], rgb[3 * i + 1], rgb[3 * i + 2]) = FalseColours.OfVector(across[i], along[i], full);
        }
    }

    /// <summary>The greatest finite length of vectors.</summary>
    public static float Lengths(float[] across, float[] along)
    {
        float most = 0;
        for (int i = 0; i < across.Length; i++)
        {
            float square = across[i] * across[i] + along[i] * along[i];
            most = float.IsFinite(square) ? Math.Max(most, square) : most;
        }

        return MathF.Sqrt(most);
    }

    private static void Each(byte[] rgb, float[] plane, Func<float, (byte, byte, byte)> colour)
    {
        for (int i = 0; i < plane.Length; i++)
        {
            (rgb[3 * i], rgb[3 * i + 1], rgb[3 * i + 2]) = colour(plane[i]);
        }
    }

    private static void MarkOdd(byte[] rgb, PassPixels pass, float[][] planes, PictureSettings settings)
    {
        for (int c = 0; c < 3; c++)
        {
            float[] plane = planes[c];
            if (settings.Marks == PictureMarks.None && TensorPrimitives.IsFiniteAll<float>(plane))
            {
                continue;
            }

            for (int i = 0; i < plane.Length; i++)
            {
                if (!float.IsFinite(plane[i]))
                {
                    NotANumber.CopyTo(rgb, 3 * i);
                }
                else if (
                    settings.Marks != PictureMarks.None
                    && (i % pass.Width + i / pass.Width) % (2 * Stripe) < Stripe
                    && (
                        settings.Marks.HasFlag(PictureMarks.Negative) && plane[i] < 0 ? Negative
                        : settings.Marks.HasFlag(PictureMarks.Above) && plane[i] > settings.Limit ? Above
                        : null
                    )
                        is { } mark
                )
                {
                    mark.CopyTo(rgb, 3 * i);
                }
            }
        }
    }

    private static void MarkLost(byte[] rgb, PassPixels pass)
    {
        for (int y = 0; y < pass.Lost.Length; y++)
        {
            for (int x = 0; pass.Lost[y] && x < pass.Width; x++)
            {
                (((x + y) % (2 * Stripe)) < Stripe / 2 ? HatchLine : Hatch).CopyTo(rgb, 3 * (y * pass.Width + x));
            }
        }
    }
}
