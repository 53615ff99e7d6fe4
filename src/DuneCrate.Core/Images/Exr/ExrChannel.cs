using DuneCrate.Core.Passes;

namespace DuneCrate.Core.Images.Exr;

/// <summary>One entry of a part's channel list. Source: <em>OpenEXR File Layout</em>, chlist.</summary>
/// <param name="Name">Name such as <c>R</c> or <c>direct_diffuse.G</c>; lists are sorted by it, byte by byte.</param>
/// <param name="Type">uint, half or float.</param>
/// <param name="XSampling">Horizontal subsampling; 1 for pictures.</param>
/// <param name="YSampling">Vertical subsampling; 1 for pictures.</param>
/// <param name="IsPerceptuallyLinear">Hint to lossy codecs.</param>
public readonly record struct ExrChannel(
    string Name,
    ChannelType Type,
    int XSampling = 1,
    int YSampling = 1,
    bool IsPerceptuallyLinear = false
)
{
    /// <summary>The number that stands for a type in files: 0 uint, 1 half, 2 float.</summary>
    internal static int TypeCode(ChannelType type) =>
        type switch
        {
            ChannelType.UInt => 0,
            ChannelType.Half => 1,
            ChannelType.Float => 2,
            _ => throw new ArgumentOutOfRangeException(nameof(type), type, "OpenEXR stores uint, half and float only."),
        };
}
