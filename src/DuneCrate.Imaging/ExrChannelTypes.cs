using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;

namespace DuneCrate.Imaging;

/// <summary>The types of channels in plans and those of OpenEXR.</summary>
public static class ExrChannelTypes
{
    /// <summary>The type as plans have it.</summary>
    public static ChannelType ToChannelType(this ExrPixelType type) =>
        type switch
        {
            ExrPixelType.UInt => ChannelType.UInt,
            ExrPixelType.Half => ChannelType.Half,
            _ => ChannelType.Float,
        };

    /// <summary>The type as OpenEXR has it.</summary>
    /// <exception cref="ArgumentOutOfRangeException">OpenEXR has no such type.</exception>
    public static ExrPixelType ToExr(this ChannelType type) =>
        type switch
        {
            ChannelType.UInt => ExrPixelType.UInt,
            ChannelType.Half => ExrPixelType.Half,
            ChannelType.Float => ExrPixelType.Float,
            _ => throw new ArgumentOutOfRangeException(nameof(type), type, "OpenEXR stores uint, half and float only."),
        };
}
