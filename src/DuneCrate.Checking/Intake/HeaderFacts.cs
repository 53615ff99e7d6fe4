using System.Collections.Concurrent;
using System.Collections.Immutable;
using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging;

namespace DuneCrate.Checking.Intake;

/// <summary>Header of a part → facts.</summary>
public static class HeaderFacts
{
    private const int MostNames = 10_000;

    /// <summary>Names that programs give the colour space of a picture; the first is OpenEXR's own.</summary>
    private static readonly string[] ColourSpaceNames = ["colorInteropID", "colorSpace", "oiio:ColorSpace"];

    /// <summary>Names of the camera, OpenEXR's own first (standard attributes of OpenEXR 3.1); the others are common practice.</summary>
    private static readonly string[] CameraNames = ["cameraLabel", "camera", "cameraName", "renderCamera", "cam"];

    /// <summary>Names of the program that wrote a file; common practice.</summary>
    private static readonly string[] ProgramNames = ["software", "rendererVersion", "renderer", "program", "writer"];

    /// <summary>Names of the machine that wrote a file; common practice.</summary>
    private static readonly string[] HostNames = ["hostName", "host", "hostComputer", "machine"];

    /// <summary>Names of the scene file; common practice.</summary>
    private static readonly string[] SceneNames = ["sceneFile", "scene", "sourceFile", "sourceScene"];

    private const int MostCharacters = 120;

    private static readonly ConcurrentDictionary<string, string?> PassNames = new(StringComparer.Ordinal);

    /// <summary>What a part's header says.</summary>
    public static PartFacts From(ExrPart part)
    {
        ImmutableArray<CryptomatteHeader> mattes = CryptomatteHeader.Parse(part);
        ImmutableArray<string> views = part.Find("multiView")?.AsTexts() ?? [];
        return new PartFacts
        {
            Index = part.Index,
            Name = part.Name,
            Type = part.Type,
            Compression = part.Compression.Name,
            DisplayWindow = part.DisplayWindow,
            DataWindow = part.DataWindow,
            PixelAspectRatio = part.PixelAspectRatio,
            FrameRate = part.FindAny("framesPerSecond")?.AsRate(),
            Camera = Text(part, CameraNames),
            Program = Text(part, ProgramNames)?.Split(" : ")[0],
            Host = Text(part, HostNames),
            SceneFile = Text(part, SceneNames),
            Contradiction =
                part.Find("type")?.AsText() is { } type && type != part.Type
                    ? $"the type attribute says {type}, the version flags say {part.Type}"
                    : null,
            RenderSeconds = part.Find("renderSeconds")?.AsFloat() is { } seconds and >= 0 and < float.PositiveInfinity ? seconds : null,
            View = part.View,
            Views = views.IsEmpty ? null : views,
            Chromaticities = part.Find("chromaticities")?.AsChromaticities(),
            ColourSpace = ColourSpaceNames.Select(n => part.Find(n)?.AsText()).FirstOrDefault(t => t is not null),
            Cryptomattes = mattes.IsEmpty ? null : mattes,
            SmallerLevels = part.Chunks.SmallerLevels,
            Channels =
            [
                .. part.Channels.Select(c => new ChannelFacts
                {
                    Name = c.Name,
                    Type = c.Type.ToChannelType(),
                    Pass = PassOf(WithoutView(c.Name, views)),
                }),
            ],
        };
    }

    private static string? Text(ExrPart part, string[] names) =>
        names.Select(n => part.FindAny(n)?.AsText()).FirstOrDefault(t => t?.Length > 0) is { } text
            ? text[..Math.Min(text.Length, MostCharacters)]
            : null;

    /// <summary>
    /// A channel's name without its view, which stands before the last part of the name: <c>diffuse.right.R</c>. Source: <em>Storing
    /// Multi-View Images in
    /// OpenEXR Files</em>.
    /// </summary>
    private static string WithoutView(string channel, ImmutableArray<string> views)
    {
        if (views.IsEmpty || channel.Split('.') is not { Length: > 1 } words || !views.Contains(words[^2]))
        {
            return channel;
        }

        return string.Join('.', [.. words[..^2], words[^1]]);
    }

    /// <summary>The catalogue's answer, remembered: a shot asks the same few names thousands of times.</summary>
    private static string? PassOf(string channel)
    {
        if (PassNames.TryGetValue(channel, out string? known))
        {
            return known;
        }

        string? pass = PassCatalogue.Shipped.PassOfChannel(channel);
        return PassNames.Count < MostNames ? PassNames[channel] = pass : pass;
    }
}
