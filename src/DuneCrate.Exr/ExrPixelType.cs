namespace DuneCrate.Exr;

/// <summary>How one sample of a channel is stored; the numbers are those of files. Source: <em>OpenEXR File Layout</em>, chlist.</summary>
public enum ExrPixelType
{
    /// <summary>32-bit unsigned integer.</summary>
    UInt = 0,

    /// <summary>IEEE 754 binary16.</summary>
    Half = 1,

    /// <summary>IEEE 754 binary32.</summary>
    Float = 2,
}
