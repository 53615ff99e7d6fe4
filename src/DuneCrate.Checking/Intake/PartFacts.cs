using System.Collections.Immutable;
using System.Text.Json.Serialization;
using DuneCrate.Checking.Intake.Measures;
using DuneCrate.Exr;
using DuneCrate.Foundation.Frames;

namespace DuneCrate.Checking.Intake;

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

    /// <summary>Program that wrote the file with its version, or null.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Program { get; init; }

    /// <summary>Machine that wrote the file, or null.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Host { get; init; }

    /// <summary>Scene file that it was rendered from, or null.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? SceneFile { get; init; }

    /// <summary>Where the header says two things, in words; or null.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Contradiction { get; init; }

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

    /// <summary>
    /// premultiplied, straight or unspecified, where the format says; null for OpenEXR, whose colour is premultiplied by convention, and
    /// without alpha.
    /// </summary>
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
