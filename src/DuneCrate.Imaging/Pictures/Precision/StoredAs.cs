namespace DuneCrate.Imaging.Pictures.Precision;

/// <summary>How samples of colour may be stored.</summary>
public enum StoredAs
{
    /// <summary>Whole numbers of 8 bits along the sRGB curve, 0 to 1.</summary>
    EightBit,

    /// <summary>Whole numbers of 16 bits along the sRGB curve, 0 to 1.</summary>
    SixteenBit,

    /// <summary>IEEE 754 binary16.</summary>
    Half,

    /// <summary>IEEE 754 binary32.</summary>
    Float,
}
