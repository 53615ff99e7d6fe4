using DuneCrate.Core.Passes;
using NetVips;

namespace DuneCrate.Core.Images.Rasters;

/// <summary>
/// Pixels of PNG, TIFF and JPEG through libvips, line by line from the top. The library divides associated colour by alpha as it loads; it is given the file with that
/// one byte changed, so that samples come as they are stored.
/// </summary>
internal static class VipsReader
{
    private const int BandLines = 64;

    /// <summary>Reads the picture in bands of at most 64 lines.</summary>
    public static void ReadBands(string path, RasterHeader header, TakeBand take, CancellationToken cancel)
    {
        try
        {
            using FileStream file = File.OpenRead(path);
            using Stream? patched = header.AssociatedAt is { } at ? new PatchedStream(file, at, 0) : null;
            using Image image = patched is null
                ? Image.NewFromFile(path, access: Enums.Access.Sequential, failOn: Enums.FailOn.Error)
                : Image.NewFromStream(patched, access: Enums.Access.Sequential, failOn: Enums.FailOn.Error);
            if (image.Width != header.Width || image.Height != header.Height || image.Bands != header.Channels.Length || TypeOf(image.Format) != header.Type)
            {
                throw new ImageException(path, 0, $"the header says {header.Width} × {header.Height} with {header.Channels.Length} channels of {header.Type.Name()}, the picture is {image.Width} × {image.Height} with {image.Bands} of {image.Format}");
            }

            int line = header.Width * header.Channels.Length * header.Type.Bytes();
            int lines = Math.Clamp((int)((8L << 20) / line), 1, BandLines);
            byte[] planar = new byte[line * lines];
            using Region region = Region.New(image);
            for (int y = 0; y < header.Height; y += lines)
            {
                cancel.ThrowIfCancellationRequested();
                int count = Math.Min(lines, header.Height - y);
                RasterFile.Split(region.Fetch(0, y, header.Width, count), header.Width, count, header.Channels.Length, header.Type, planar);
                take(planar.AsSpan(0, line * count), y, count);
            }
        }
        catch (VipsException e)
        {
            throw new ImageException(path, 0, Reason(e), ImageProblem.Truncated);
        }
    }

    private static ChannelType? TypeOf(Enums.BandFormat format) => format switch
    {
        Enums.BandFormat.Uchar => ChannelType.UInt8,
        Enums.BandFormat.Ushort => ChannelType.UInt16,
        Enums.BandFormat.Uint => ChannelType.UInt,
        Enums.BandFormat.Float => ChannelType.Float,
        _ => null,
    };

    /// <summary>The library's last words, on one line.</summary>
    private static string Reason(VipsException e)
    {
        string[] lines = [.. e.Message.Split('\n').Select(l => l.Trim()).Where(l => l.Length > 0)];
        return lines.Length > 1 ? lines[1] : "the picture cannot be decoded";
    }
}
