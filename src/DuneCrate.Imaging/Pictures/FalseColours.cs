using System.Collections.Immutable;

namespace DuneCrate.Imaging.Pictures;

/// <summary>Colours that stand for numbers: stops around middle grey, residuals, directions, ids. Safe to share.</summary>
public static class FalseColours
{
    /// <summary>Middle grey: the share of light that it throws back (common practice).</summary>
    public const float MiddleGrey = 0.18f;

    /// <summary>Stops to each side of middle grey that have a colour of their own.</summary>
    public const int MostStops = 6;

    private static readonly (double At, byte R, byte G, byte B)[] Scale =
    [
        (0, 34, 36, 40),
        (0.33, 32, 110, 116),
        (0.67, 214, 168, 92),
        (1, 255, 252, 244),
    ];

    /// <summary>The bands of luminance, darkest first: stops from middle grey, the least value in the band, its colour.</summary>
    public static readonly ImmutableArray<(int Stops, double Least, byte R, byte G, byte B)> Bands =
    [
        .. Enumerable
            .Range(-MostStops, 2 * MostStops + 1)
            .Select(s =>
            {
                (byte r, byte g, byte b) = s == 0 ? ((byte)128, (byte)128, (byte)128) : Heat((s + MostStops) / (2.0 * MostStops));
                return (s, MiddleGrey * Math.Pow(2, s - 0.5), r, g, b);
            }),
    ];

    /// <summary>The colour of a luminance: that of its band; below the lowest black.</summary>
    public static (byte R, byte G, byte B) OfLuminance(float luminance)
    {
        int band = luminance > 0 ? (int)Math.Floor(Math.Log2(luminance / MiddleGrey) + 0.5) + MostStops : -1;
        return band < 0 ? ((byte)0, (byte)0, (byte)0) : (Bands[Math.Min(band, Bands.Length - 1)] is var b ? (b.R, b.G, b.B) : default);
    }

    /// <summary>Dark at 0 through teal and sand to near white at 1 and above.</summary>
    public static (byte R, byte G, byte B) Heat(double share)
    {
        share = Math.Clamp(share, 0, 1);
        int i = 1;
        while (share > Scale[i].At)
        {
            i++;
        }

        double t = (share - Scale[i - 1].At) / (Scale[i].At - Scale[i - 1].At);
        byte Mix(byte from, byte to) => (byte)(from + (to - from) * t);
        return (Mix(Scale[i - 1].R, Scale[i].R), Mix(Scale[i - 1].G, Scale[i].G), Mix(Scale[i - 1].B, Scale[i].B));
    }

    /// <summary>A direction as a hue, to the right red, and a length as brightness.</summary>
    /// <param name="x">Across.</param>
    /// <param name="y">Along.</param>
    /// <param name="full">The length that is shown brightest.</param>
    public static (byte R, byte G, byte B) OfVector(float x, float y, float full)
    {
        float length = MathF.Sqrt(x * x + y * y),
            value = full > 0 ? Math.Min(1, length / full) : 0,
            sixth = (MathF.Atan2(y, x) / MathF.Tau + 1) % 1 * 6;
        byte Level(float offset)
        {
            float k = (offset + sixth) % 6;
            return (byte)(255 * (value - value * Math.Clamp(Math.Min(k, 4 - k), 0, 1)) + 0.5f);
        }

        return (Level(5), Level(3), Level(1));
    }

    /// <summary>A colour for an id, far from that of its neighbours; black for 0.</summary>
    public static (byte R, byte G, byte B) OfId(float id)
    {
        uint bits = BitConverter.SingleToUInt32Bits(id);
        if (bits == 0)
        {
            return default;
        }

        uint mixed = bits * 2654435761u;
        mixed ^= mixed >> 15;
        return ((byte)(70 + (mixed & 127)), (byte)(70 + ((mixed >> 8) & 127)), (byte)(70 + ((mixed >> 16) & 127)));
    }
}
