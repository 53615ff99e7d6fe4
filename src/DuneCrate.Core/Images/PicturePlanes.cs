using System.Collections.Immutable;
using DuneCrate.Core.Images.Exr;
using DuneCrate.Core.Images.Rasters;
using DuneCrate.Core.Passes;

namespace DuneCrate.Core.Images;

/// <summary>Channels of a picture of any format that is read, in memory.</summary>
/// <param name="Planes">By channel: width × height floats, row-major, top line first; 8- and 16-bit samples stand for 0..1. Lost lines are 0.</param>
/// <param name="Window">The data window.</param>
/// <param name="IsEncoded">Whether colours are stored along the sRGB curve, as 8- and 16-bit pictures have them (common practice).</param>
/// <param name="Problem">What is lost, or null.</param>
public sealed record PicturePlanes(ImmutableDictionary<string, float[]> Planes, PixelBox Window, bool IsEncoded, string? Problem)
{
    /// <summary>Bytes that the planes take.</summary>
    public long Bytes => Planes.Values.Sum(p => p.LongLength * sizeof(float));

    /// <summary>Reads the channels that are asked for, as far as the file has them.</summary>
    /// <param name="path">The file.</param>
    /// <param name="format">What its name promises: exr, png, tiff, jpeg or tga.</param>
    /// <param name="channels">Names of channels.</param>
    /// <exception cref="ImageException">The file cannot be read, or has none of the channels.</exception>
    public static PicturePlanes Read(string path, string format, IReadOnlyCollection<string> channels) => format == "exr" ? OfExr(path, channels) : OfRaster(path, format, channels);

    private static PicturePlanes OfExr(string path, IReadOnlyCollection<string> channels)
    {
        using ExrFile file = ExrFile.Open(path);
        ExrPart part = file.Parts.FirstOrDefault(p => p.Channels.Any(c => channels.Contains(c.Name))) ?? throw None(path, channels);
        ExrImage image = ExrImage.Read(file, part, channels, out string? problem);
        return new PicturePlanes(image.Planes, part.DataWindow, false, problem);
    }

    private static PicturePlanes OfRaster(string path, string format, IReadOnlyCollection<string> channels)
    {
        RasterHeader header = RasterFile.ReadHeader(path, format, RasterLimits.Default);
        if (header.Unsupported is { } unsupported)
        {
            throw new ImageException(path, 0, unsupported, ImageProblem.Unsupported);
        }

        (int Index, string Name)[] wanted = [.. header.Channels.Index().Where(c => channels.Contains(c.Item))];
        if (wanted.Length == 0)
        {
            throw None(path, channels);
        }

        int line = header.Width * header.Type.Bytes(), width = header.Width;
        var planes = wanted.ToImmutableDictionary(c => c.Name, _ => new float[checked(width * header.Height)]);
        string? problem = null;
        try
        {
            RasterFile.ReadBands(path, header, (samples, y, lines) =>
            {
                for (int i = 0; i < lines; i++)
                {
                    foreach ((int index, string name) in wanted)
                    {
                        SampleLine.ToFloats(samples.Slice((i * header.Channels.Length + index) * line, line), header.Type, planes[name].AsSpan((y + i) * width, width));
                    }
                }
            });
        }
        catch (ImageException e) when (e.Problem == ImageProblem.Truncated)
        {
            problem = e.Reason;
        }

        return new PicturePlanes(planes, PixelBox.OfSize(width, header.Height), header.Type is ChannelType.UInt8 or ChannelType.UInt16, problem);
    }

    private static ImageException None(string path, IReadOnlyCollection<string> channels) => new(path, 0, $"it has none of {string.Join(", ", channels)}");
}
