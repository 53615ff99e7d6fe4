namespace DuneCrate.Core.Images.Colour;

/// <summary>The sRGB transfer function. Source: IEC 61966-2-1:1999, 5.2 and 5.3. Negative values are mirrored.</summary>
public static class SrgbCurve
{
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
