using DuneCrate.Imaging.Colour;

namespace DuneCrate.Imaging.Statistics;

/// <summary>
/// The values that an 8-bit picture can take once it is stored deeper: k / 255 (linear) and the sRGB decoding of k / 255
/// (IEC 61966-2-1), k = 0..255.
/// </summary>
internal static class LevelGrid
{
    private const float Tolerance = 2e-6f;

    private static readonly float[] LinearValues = [.. Enumerable.Range(0, 256).Select(k => k / 255f)];
    private static readonly float[] SrgbValues = [.. Enumerable.Range(0, 256).Select(k => (float)SrgbCurve.Decode(k / 255d))];

    /// <summary>By binary16 bit pattern: whether it is one of the linear levels rounded to half.</summary>
    public static readonly bool[] LinearHalf = HalfTable(LinearValues);

    /// <summary>By binary16 bit pattern: whether it is one of the sRGB levels rounded to half.</summary>
    public static readonly bool[] SrgbHalf = HalfTable(SrgbValues);

    /// <summary>The linear level of a value, or −1.</summary>
    public static int Linear(float value)
    {
        float level = MathF.Round(value * 255);
        return level is >= 0 and <= 255 && MathF.Abs(LinearValues[(int)level] - value) <= Tolerance ? (int)level : -1;
    }

    /// <summary>The sRGB level of a value, or −1.</summary>
    public static int Srgb(float value)
    {
        if (value is not (>= 0 and <= 1.001f))
        {
            return -1;
        }

        int level = (int)Math.Round(SrgbCurve.Encode(value) * 255);
        return level <= 255 && MathF.Abs(SrgbValues[level] - value) <= Tolerance ? level : -1;
    }

    private static bool[] HalfTable(float[] values)
    {
        bool[] table = new bool[65536];
        table[0x8000] = true;
        foreach (float value in values)
        {
            table[BitConverter.HalfToUInt16Bits((Half)value)] = true;
        }

        return table;
    }
}
