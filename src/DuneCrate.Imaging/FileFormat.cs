using System.Collections.Immutable;
using DuneCrate.Foundation.Passes;

namespace DuneCrate.Imaging;

/// <summary>What a file format can hold. Immutable.</summary>
/// <param name="Key">Name in documents: exr, png, tiff, jpeg, tga.</param>
/// <param name="Name">Name for people.</param>
/// <param name="Extensions">Extensions of its files, in lower case.</param>
/// <param name="Types">Types of samples.</param>
/// <param name="MaxChannels">Channels of one file; null for any number, also of several passes.</param>
/// <param name="IsLossy">Whether writing it changes values.</param>
public sealed record FileFormat(
    string Key,
    string Name,
    ImmutableArray<string> Extensions,
    ImmutableArray<ChannelType> Types,
    int? MaxChannels,
    bool IsLossy = false
)
{
    /// <summary>
    /// The formats that are read. Sources: OpenEXR file layout (pixel types uint, half, float); PNG third edition, 11.2.1 (8 and 16 bits,
    /// up to four channels); TIFF 6.0, sections 8 and 19 with Adobe's technical note 3 (float); ITU-T T.81 baseline (8 bits); Truevision
    /// TGA 2.0 (8 bits a channel).
    /// </summary>
    public static readonly ImmutableArray<FileFormat> All =
    [
        new("exr", "OpenEXR", ["exr"], [ChannelType.Half, ChannelType.Float, ChannelType.UInt], null),
        new("png", "PNG", ["png"], [ChannelType.UInt8, ChannelType.UInt16], 4),
        new("tiff", "TIFF", ["tif", "tiff"], [ChannelType.UInt8, ChannelType.UInt16, ChannelType.UInt, ChannelType.Float], 4),
        new("jpeg", "JPEG", ["jpg", "jpeg"], [ChannelType.UInt8], 3, IsLossy: true),
        new("tga", "TGA", ["tga"], [ChannelType.UInt8], 4),
    ];

    /// <summary>The format that a name's extension promises, or null.</summary>
    public static FileFormat? FromName(string name) => All.FirstOrDefault(f => f.Extensions.Contains(ExtensionOf(name)));

    /// <summary>The type that comes nearest to one that the format cannot hold.</summary>
    public ChannelType Nearest(ChannelType type) =>
        Types.Contains(type)
            ? type
            : Types.Cast<ChannelType?>().FirstOrDefault(t => !t!.Value.LosesAgainst(type)) ?? Types.MaxBy(t => t.Bytes());

    private static string ExtensionOf(string name) => name[(name.LastIndexOf('.') + 1)..].ToLowerInvariant();
}
