namespace DuneCrate.Foundation.Passes;

/// <summary>How one sample of a channel is stored.</summary>
public enum ChannelType
{
    /// <summary>8-bit unsigned integer, 0..255 standing for 0..1.</summary>
    UInt8,

    /// <summary>16-bit unsigned integer, 0..65535 standing for 0..1.</summary>
    UInt16,

    /// <summary>IEEE 754 binary16.</summary>
    Half,

    /// <summary>32-bit unsigned integer.</summary>
    UInt,

    /// <summary>IEEE 754 binary32.</summary>
    Float,
}
