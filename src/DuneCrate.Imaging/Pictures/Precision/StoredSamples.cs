using DuneCrate.Imaging.Colour;

namespace DuneCrate.Imaging.Pictures.Precision;

/// <summary>What is left of scene-linear colour once it has been stored.</summary>
internal static class StoredSamples
{
    /// <summary>The words for people.</summary>
    public static string NameOf(StoredAs stored) =>
        stored switch
        {
            StoredAs.EightBit => "8-bit",
            StoredAs.SixteenBit => "16-bit",
            StoredAs.Half => "half",
            _ => "float",
        };

    /// <summary>A sample, stored and read again.</summary>
    public static float Of(StoredAs stored, float value) =>
        stored switch
        {
            StoredAs.EightBit => Whole(value, byte.MaxValue),
            StoredAs.SixteenBit => Whole(value, ushort.MaxValue),
            StoredAs.Half => (float)(Half)value,
            _ => value,
        };

    private static float Whole(float value, int most) =>
        float.IsNaN(value) ? 0 : (float)SrgbCurve.Decode(Math.Round(most * SrgbCurve.Encode(Math.Clamp(value, 0, 1))) / most);
}
