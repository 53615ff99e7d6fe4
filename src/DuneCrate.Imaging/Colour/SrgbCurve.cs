namespace DuneCrate.Imaging.Colour;

/// <summary>The sRGB transfer function. Source: IEC 61966-2-1:1999, 5.2 and 5.3. Negative values are mirrored.</summary>
public static class SrgbCurve
{
    private static readonly float[] Linear =
    [
        .. Enumerable.Range(0, ushort.MaxValue + 1).Select(k => (float)Decode((double)k / ushort.MaxValue)),
    ];

    /// <summary>Scene-linear in place of whole numbers of 8 or 16 bits that are given as 0..1: k / 255 is 257 k / 65535.</summary>
    public static void Decode(Span<float> encoded)
    {
        foreach (ref float value in encoded)
        {
            value = Linear[(int)(Math.Clamp(value, 0, 1) * ushort.MaxValue + 0.5f)];
        }
    }

    /// <summary>Scene-linear 0..1 from an encoded value 0..1.</summary>
    public static double Decode(double encoded) =>
        encoded < 0 ? -Decode(-encoded)
        : encoded <= 0.04045 ? encoded / 12.92
        : Math.Pow((encoded + 0.055) / 1.055, 2.4);

    /// <summary>Encoded value 0..1 from scene-linear 0..1; values above 1 go on along the curve.</summary>
    public static double Encode(double linear) =>
        linear < 0 ? -Encode(-linear)
        : linear <= 0.0031308 ? linear * 12.92
        : 1.055 * Math.Pow(linear, 1 / 2.4) - 0.055;
}
