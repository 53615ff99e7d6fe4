using System.Collections.Immutable;

namespace DuneCrate.Exr;

/// <summary>The header of one part: its attributes in file order and what pixel reading needs of them. Immutable.</summary>
public sealed class ExrPart
{
    /// <summary>Makes the header of a scan-line part; the required attributes are put before the given ones.</summary>
    /// <exception cref="ArgumentException">There is no channel, two share a name, or the data window is empty.</exception>
    public ExrPart(
        IEnumerable<ExrChannel> channels,
        PixelBox displayWindow,
        PixelBox dataWindow,
        ExrCompression compression,
        IEnumerable<ExrAttribute> attributes,
        string? name = null,
        float pixelAspectRatio = 1,
        ExrLineOrder lineOrder = ExrLineOrder.Increasing
    )
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
            ExrAttribute.Float(ExrNumbers.AspectName, pixelAspectRatio),
            ExrAttribute.Vector("screenWindowCenter", 0, 0),
            ExrAttribute.Float("screenWindowWidth", 1),
            .. attributes,
        ];
    }

    internal ExrPart(
        ImmutableArray<ExrChannel> channels,
        PixelBox displayWindow,
        PixelBox dataWindow,
        ExrCompression compression,
        ExrLineOrder lineOrder,
        ImmutableArray<ExrAttribute> attributes
    )
    {
        (Channels, DisplayWindow, DataWindow, Compression, LineOrder, Attributes) = (
            channels,
            displayWindow,
            dataWindow,
            compression,
            lineOrder,
            attributes
        );
        int at = 0;
        var offsets = ImmutableArray.CreateBuilder<int>(channels.Length);
        foreach (ExrChannel channel in channels)
        {
            offsets.Add(at);
            at += channel.Type.Bytes();
        }

        (BytesPerPixel, PixelOffsets) = (at, offsets.MoveToImmutable());
        IsSubsampled = channels.Any(c => c.XSampling != 1 || c.YSampling != 1);
    }

    /// <summary>Attributes that follow from how a part is stored, so that whoever stores it otherwise writes his own.</summary>
    private static readonly string[] Structural =
    [
        "channels",
        "compression",
        "dataWindow",
        "lineOrder",
        "tiles",
        "name",
        "type",
        "version",
        "chunkCount",
    ];

    /// <summary>The header of a scan-line part that holds other channels or pixels and says otherwise what this one says.</summary>
    /// <param name="channels">Its channels.</param>
    /// <param name="dataWindow">Its pixels.</param>
    /// <param name="compression">How it is packed.</param>
    /// <param name="attributes">This part's own, without some, or with more; the structural ones among them are left out.</param>
    /// <param name="name">Its name; null for the only part of a file.</param>
    /// <param name="index">Its position in the file, from 0.</param>
    public ExrPart Rewritten(
        IEnumerable<ExrChannel> channels,
        PixelBox dataWindow,
        ExrCompression compression,
        IEnumerable<ExrAttribute> attributes,
        string? name,
        int index
    )
    {
        ImmutableArray<ExrChannel> sorted = [.. channels.OrderBy(c => c.Name, StringComparer.Ordinal)];
        return new ExrPart(
            sorted,
            DisplayWindow,
            dataWindow,
            compression,
            ExrLineOrder.Increasing,
            [
                ExrHeaderWriter.ChannelList(sorted),
                ExrAttribute.Byte("compression", "compression", compression.Code),
                ExrAttribute.Box("dataWindow", dataWindow),
                ExrAttribute.Byte("lineOrder", "lineOrder", (byte)ExrLineOrder.Increasing),
                .. attributes.Where(a => !Structural.Contains(a.Name)),
            ]
        )
        {
            Index = index,
            Name = name,
            PixelAspectRatio = PixelAspectRatio,
        };
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

    /// <summary>The first field of the header whose numbers cannot be used, as the end of a sentence; null when all can.</summary>
    public string? NumberProblem => Attributes.Select(ExrNumbers.Problem).FirstOrDefault(p => p is not null);

    /// <summary>Bytes of one pixel over all channels.</summary>
    public int BytesPerPixel { get; }

    /// <summary>
    /// For each channel the bytes of the channels before it, per pixel; times the width it is the channel's place in a line.
    /// </summary>
    public ImmutableArray<int> PixelOffsets { get; }

    /// <summary>Bytes of one unpacked line without subsampled channels.</summary>
    public long BytesPerLine => BytesPerPixel * DataWindow.Width;

    /// <summary>How it is cut into tiles; null for scan lines.</summary>
    public ExrTiling? Tiling { get; internal init; }

    /// <summary>Whether any channel has fewer samples than pixels.</summary>
    public bool IsSubsampled { get; }

    /// <summary>Whether pixels hold lists of samples.</summary>
    public bool IsDeep => Type.StartsWith("deep", StringComparison.Ordinal);

    /// <summary>View that the part belongs to, such as left; null without one.</summary>
    public string? View => Find("view")?.AsText();

    /// <summary>Its chunks.</summary>
    /// <exception cref="OverflowException">There are more than can be counted; headers of such files are refused.</exception>
    public ExrChunks Chunks => field ??= new ExrChunks(this);

    /// <summary>Why the pixels of this part cannot be read by this product, or null.</summary>
    public string? Unsupported =>
        IsDeep ? "deep pixels are not checked"
        : Type is not ("scanlineimage" or "tiledimage") ? $"parts of the type {Type} are not known"
        : Compression.Codec is null
            ? $"the compression {Compression.Name} is newer than this product; "
                + $"write one of {string.Join(", ", ExrCompression.All.Select(c => c.Name))}"
        : null;

    /// <summary>The attribute of a name, or null.</summary>
    public ExrAttribute? Find(string name) => Attributes.FirstOrDefault(a => a.Name == name);

    /// <summary>
    /// The attribute of the first of several names that is there. Programs differ in letter case and in what parts the words
    /// (<c>framesPerSecond</c>, <c>FramesPerSecond</c>), so a name that is not there as it is written is looked for without them.
    /// </summary>
    public ExrAttribute? FindAny(params ReadOnlySpan<string> names)
    {
        foreach (string name in names)
        {
            if ((Find(name) ?? Attributes.FirstOrDefault(a => IsAlike(a.Name, name))) is { } found)
            {
                return found;
            }
        }

        return null;
    }

    /// <summary>Whether two names have the same letters and digits (ASCII), whatever stands between; asked often.</summary>
    private static bool IsAlike(ReadOnlySpan<char> a, ReadOnlySpan<char> b)
    {
        int i = 0,
            j = 0;
        while (true)
        {
            for (; i < a.Length && !char.IsAsciiLetterOrDigit(a[i]); i++) { }

            for (; j < b.Length && !char.IsAsciiLetterOrDigit(b[j]); j++) { }

            if (i == a.Length || j == b.Length)
            {
                return i == a.Length && j == b.Length;
            }

            if (char.ToLowerInvariant(a[i++]) != char.ToLowerInvariant(b[j++]))
            {
                return false;
            }
        }
    }
}
