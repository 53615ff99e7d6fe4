using System.Collections.Immutable;
using DuneCrate.Core.Passes;

namespace DuneCrate.Core.Images.Exr;

/// <summary>The header of one part: its attributes in file order and what pixel reading needs of them. Immutable.</summary>
public sealed class ExrPart
{
    /// <summary>Makes the header of a scan-line part; the required attributes are put before the given ones.</summary>
    /// <exception cref="ArgumentException">There is no channel, two share a name, or the data window is empty.</exception>
    public ExrPart(IEnumerable<ExrChannel> channels, PixelBox displayWindow, PixelBox dataWindow, ExrCompression compression,
        IEnumerable<ExrAttribute> attributes, string? name = null, float pixelAspectRatio = 1, ExrLineOrder lineOrder = ExrLineOrder.Increasing)
        : this([.. channels.OrderBy(c => c.Name, StringComparer.Ordinal)], displayWindow, dataWindow, compression, lineOrder, [])
    {
        if (Channels.IsEmpty || dataWindow.IsEmpty || Channels.Select(c => c.Name).Distinct().Count() != Channels.Length)
        {
            throw new ArgumentException("A part needs channels with different names and a data window that is not empty.");
        }

        (PixelAspectRatio, Name) = (pixelAspectRatio, name);
        Attributes =
        [
            ExrHeaderWriter.ChannelList(Channels),
            ExrAttribute.Byte("compression", "compression", compression.Code),
            ExrAttribute.Box("dataWindow", dataWindow),
            ExrAttribute.Box("displayWindow", displayWindow),
            ExrAttribute.Byte("lineOrder", "lineOrder", (byte)lineOrder),
            ExrAttribute.Float("pixelAspectRatio", pixelAspectRatio),
            ExrAttribute.Vector("screenWindowCenter", 0, 0),
            ExrAttribute.Float("screenWindowWidth", 1),
            .. attributes,
        ];
    }

    internal ExrPart(ImmutableArray<ExrChannel> channels, PixelBox displayWindow, PixelBox dataWindow, ExrCompression compression, ExrLineOrder lineOrder, ImmutableArray<ExrAttribute> attributes)
    {
        (Channels, DisplayWindow, DataWindow, Compression, LineOrder, Attributes) = (channels, displayWindow, dataWindow, compression, lineOrder, attributes);
        int at = 0;
        var offsets = ImmutableArray.CreateBuilder<int>(channels.Length);
        foreach (ExrChannel channel in channels)
        {
            offsets.Add(at);
            at += channel.Type.Bytes();
        }

        (BytesPerPixel, PixelOffsets) = (at, offsets.MoveToImmutable());
    }

    /// <summary>Position of the part in its file, from 0.</summary>
    public int Index { get; internal init; }

    /// <summary>Name of the part; null in single-part files that give none.</summary>
    public string? Name { get; internal init; }

    /// <summary>Kind of part: scanlineimage, tiledimage, deepscanline or deeptile.</summary>
    public string Type { get; internal init; } = "scanlineimage";

    /// <summary>Channels, sorted by name as in the file.</summary>
    public ImmutableArray<ExrChannel> Channels { get; }

    /// <summary>The frame of the picture.</summary>
    public PixelBox DisplayWindow { get; }

    /// <summary>The pixels that are stored.</summary>
    public PixelBox DataWindow { get; }

    /// <summary>How chunks are packed.</summary>
    public ExrCompression Compression { get; }

    /// <summary>Order in which chunks were written.</summary>
    public ExrLineOrder LineOrder { get; }

    /// <summary>Width of a pixel over its height.</summary>
    public float PixelAspectRatio { get; internal init; } = 1;

    /// <summary>Every attribute, in file order, the required ones included.</summary>
    public ImmutableArray<ExrAttribute> Attributes { get; }

    /// <summary>Bytes of one pixel over all channels.</summary>
    public int BytesPerPixel { get; }

    /// <summary>For each channel the bytes of the channels before it, per pixel; times the width it is the channel's place in a line.</summary>
    internal ImmutableArray<int> PixelOffsets { get; }

    /// <summary>Bytes of one unpacked line.</summary>
    public long BytesPerLine => BytesPerPixel * DataWindow.Width;

    /// <summary>Scan-line chunks that the part must have.</summary>
    public int ChunkCount => (int)((DataWindow.Height + Compression.LinesPerChunk - 1) / Compression.LinesPerChunk);

    /// <summary>Why the pixels of this part cannot be read by this product, or null.</summary>
    public string? Unsupported =>
        Type.StartsWith("deep", StringComparison.Ordinal) ? "deep pixels are not read" :
        Type != "scanlineimage" ? "tiles are not read yet; write scan lines" :
        Channels.Any(c => c.XSampling != 1 || c.YSampling != 1) ? "subsampled channels are not read; write every channel at full size" :
        Compression.Codec is null ? $"{Compression.Name} compression is not read yet; write none, rle, zips or zip" : null;

    /// <summary>The attribute of a name, or null.</summary>
    public ExrAttribute? Find(string name) => Attributes.FirstOrDefault(a => a.Name == name);
}

/// <summary>Order of scan lines in the file.</summary>
public enum ExrLineOrder : byte
{
    /// <summary>Top line first.</summary>
    Increasing = 0,

    /// <summary>Bottom line first.</summary>
    Decreasing = 1,

    /// <summary>Any order.</summary>
    Random = 2,
}
