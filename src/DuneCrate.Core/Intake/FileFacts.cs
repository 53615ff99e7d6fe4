using System.Collections.Immutable;
using System.Text.Json.Serialization;
using DuneCrate.Core.Frames;
using DuneCrate.Core.Images;
using DuneCrate.Core.Images.Statistics;
using DuneCrate.Core.Intake.Measures;
using DuneCrate.Core.Passes;
using DuneCrate.Core.Stacking;

namespace DuneCrate.Core.Intake;

/// <summary>How much of a file is read.</summary>
public enum FactsDepth
{
    /// <summary>Names, sizes and headers.</summary>
    Header,

    /// <summary>Every pixel of every channel.</summary>
    Pixels,
}

/// <summary>What one file says and contains. Immutable; a file that cannot be read keeps whatever could be.</summary>
public sealed record FileFacts
{
    /// <summary>Path relative to the folder, with <c>/</c>.</summary>
    public required string Path { get; init; }

    /// <summary>Format by content where it is known, else by extension: exr, png …</summary>
    public required string Format { get; init; }

    /// <summary>Size in bytes.</summary>
    public long Bytes { get; init; }

    /// <summary>Time of the last change, UTC.</summary>
    public DateTime Modified { get; init; }

    /// <summary>Whether the file opens as an image.</summary>
    public bool Readable { get; init; }

    /// <summary>What is wrong with it in words, or null.</summary>
    public string? Problem { get; init; }

    /// <summary>What sort of trouble <see cref="Problem"/> is.</summary>
    public ImageProblem Trouble { get; init; }

    /// <summary>Lines of the first part that are lost, in data window coordinates; null when none are.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public FrameSet? LostLines { get; init; }

    /// <summary>Chunks that the file's own table does not give and that were found by walking through it. Other readers may stop at them.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public int MendedChunks { get; init; }

    /// <summary>XXH3 (128 bit) of the whole file as it was read for these facts; empty at header depth, and when the file was written to meanwhile.</summary>
    [JsonIgnore]
    public ImmutableArray<byte> Content { get; init; } = [];

    /// <summary>Whether they hold for this moment only, so that they are not remembered.</summary>
    [JsonIgnore]
    public bool IsTransient => Trouble is ImageProblem.Tiny or ImageProblem.Changing or ImageProblem.NotRead;

    /// <summary>The parts.</summary>
    public ImmutableArray<PartFacts> Parts { get; init; } = [];

    /// <summary>How far the light passes are from the beauty, when all of them are in this file and the plan says what sums to what.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public RebuildFacts? Rebuild { get; init; }

    /// <summary>Every channel of every part.</summary>
    [JsonIgnore]
    public IEnumerable<ChannelFacts> Channels => Parts.SelectMany(p => p.Channels);

    /// <summary>The channel of a name in whichever part, or null.</summary>
    public ChannelFacts? FindChannel(string name)
    {
        foreach (PartFacts part in Parts)
        {
            foreach (ChannelFacts channel in part.Channels)
            {
                if (channel.Name == name)
                {
                    return channel;
                }
            }
        }

        return null;
    }
}

/// <summary>One part of a file.</summary>
public sealed record PartFacts
{
    /// <summary>Position in the file, from 0.</summary>
    public int Index { get; init; }

    /// <summary>Name, or null.</summary>
    public string? Name { get; init; }

    /// <summary>scanlineimage, tiledimage, deepscanline or deeptile.</summary>
    public required string Type { get; init; }

    /// <summary>Compression name.</summary>
    public required string Compression { get; init; }

    /// <summary>minX, minY, maxX, maxY; inclusive.</summary>
    public required PixelBox DisplayWindow { get; init; }

    /// <summary>minX, minY, maxX, maxY; inclusive.</summary>
    public required PixelBox DataWindow { get; init; }

    /// <summary>Pixels of the data window beyond the display window, where they are as many on every side; otherwise null.</summary>
    [JsonIgnore]
    public int? Overscan =>
        DisplayWindow.MinX - DataWindow.MinX is >= 0 and var border && DataWindow == DisplayWindow.Grown(border) ? border : null;

    /// <summary>Width of a pixel over its height.</summary>
    public double PixelAspectRatio { get; init; }

    /// <summary>Frame rate in the header, or null.</summary>
    public FrameRate? FrameRate { get; init; }

    /// <summary>Camera in the header, or null.</summary>
    public string? Camera { get; init; }

    /// <summary>Seconds that the renderer says it took, or null.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public double? RenderSeconds { get; init; }

    /// <summary>View such as left or right, or null.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? View { get; init; }

    /// <summary>Views that the channels of a single part belong to, the one without a name first; null for pictures of one view.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public ImmutableArray<string>? Views { get; init; }

    /// <summary>CIE x and y of red, green, blue and white; null when the header does not say.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public ImmutableArray<float>? Chromaticities { get; init; }

    /// <summary>Name of the colour space that the header gives, or null.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? ColourSpace { get; init; }

    /// <summary>Smaller versions of the picture that are stored beside it (mipmaps, ripmaps). They are not checked.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public int SmallerLevels { get; init; }

    /// <summary>Samples of a deep part, counted at pixel depth; null for other parts and when they cannot be counted.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public long? DeepSamples { get; init; }

    /// <summary>premultiplied, straight or unspecified, where the format says; null for OpenEXR, whose colour is premultiplied by convention, and without alpha.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Alpha { get; init; }

    /// <summary>Further pictures in the file (pages of a TIFF). They are not checked.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public int FurtherPictures { get; init; }

    /// <summary>The Cryptomattes that the header speaks of; null when it speaks of none.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public ImmutableArray<CryptomatteHeader>? Cryptomattes { get; init; }

    /// <summary>Channels in file order.</summary>
    public ImmutableArray<ChannelFacts> Channels { get; init; } = [];

    /// <summary>What the pixels of passes say beyond the statistics of channels; null at header depth.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public ImmutableArray<PassFacts>? Passes { get; init; }
}

/// <summary>One channel. Statistics are null at header depth and where pixels could not be read.</summary>
public sealed record ChannelFacts
{
    /// <summary>Full name in the file.</summary>
    public required string Name { get; init; }

    /// <summary>Sample type.</summary>
    public required ChannelType Type { get; init; }

    /// <summary>The pass it belongs to by name, or null.</summary>
    public string? Pass { get; init; }

    /// <summary>Statistics.</summary>
    public SampleStatistics? Samples { get; init; }
}
