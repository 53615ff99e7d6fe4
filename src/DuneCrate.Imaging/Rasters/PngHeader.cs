using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;

namespace DuneCrate.Imaging.Rasters;

/// <summary>
/// The header of a PNG. Source: W3C, <em>Portable Network Graphics (PNG) Specification</em>, third edition, sections 5 and 11.
/// </summary>
internal static class PngHeader
{
    private const int MostChunks = 4096;

    /// <summary>Reads up to the first image data. PNG colour is never premultiplied (section 12.3).</summary>
    public static RasterHeader Read(FileStream stream, string path)
    {
        Span<byte> start = stackalloc byte[33];
        stream.ReadExactly(start);
        int width = (int)RasterFile.BigEndian(start[16..]),
            height = (int)RasterFile.BigEndian(start[20..]);
        (byte depth, byte colour) = (start[24], start[25]);
        bool isLegal =
            !start[12..16].SequenceEqual("IHDR"u8)
            || colour switch
            {
                0 => depth is 1 or 2 or 4 or 8 or 16,
                3 => depth is 1 or 2 or 4 or 8,
                2 or 4 or 6 => depth is 8 or 16,
                _ => false,
            };
        if (!isLegal || !start[12..16].SequenceEqual("IHDR"u8))
        {
            throw new ImageException(path, 8, $"the PNG header names colour type {colour} with {depth} bits, which there is not");
        }

        (bool hasTransparency, double aspect) = ReadChunks(stream, path);
        bool hasAlpha = colour is 4 or 6 || hasTransparency;
        return new RasterHeader
        {
            Format = "png",
            Width = width,
            Height = height,
            Type = depth == 16 ? ChannelType.UInt16 : ChannelType.UInt8,
            Channels = (colour is 0 or 4, hasAlpha) switch
            {
                (true, false) => ["Y"],
                (true, true) => ["Y", "A"],
                (false, false) => ["R", "G", "B"],
                _ => ["R", "G", "B", "A"],
            },
            Compression = "deflate",
            Alpha = hasAlpha ? "straight" : null,
            PixelAspectRatio = aspect,
            HeldBytes = start[28] == 0 ? 0 : (long)width * height * (hasAlpha ? 4 : 3) * (depth == 16 ? 2 : 1),
        };
    }

    private static (bool HasTransparency, double Aspect) ReadChunks(FileStream stream, string path)
    {
        Span<byte> head = stackalloc byte[8],
            physical = stackalloc byte[9];
        bool transparency = false;
        double aspect = 1;
        for (int i = 0; i < MostChunks; i++)
        {
            stream.ReadExactly(head);
            uint length = RasterFile.BigEndian(head);
            if (head[4..].SequenceEqual("IDAT"u8))
            {
                return (transparency, aspect);
            }

            transparency |= head[4..].SequenceEqual("tRNS"u8);
            long next = stream.Position + length + 4;
            if (head[4..].SequenceEqual("pHYs"u8) && length == 9)
            {
                stream.ReadExactly(physical);
                (uint across, uint down) = (RasterFile.BigEndian(physical), RasterFile.BigEndian(physical[4..]));
                aspect = across > 0 && down > 0 && PixelAspect.Is((double)down / across) ? (double)down / across : 1;
            }

            if (next > stream.Length)
            {
                break;
            }

            stream.Position = next;
        }

        throw new ImageException(path, stream.Position, "the PNG has no image data");
    }
}
