using System.Buffers.Binary;
using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Storage;

namespace DuneCrate.Imaging.Rasters;

/// <summary>
/// A picture that is not OpenEXR: PNG, TIFF, JPEG or TGA, told apart by its first bytes (TGA, which has none, by its name). Headers are
/// parsed here; pixels of the first three come from libvips, those of TGA from <see cref="TgaReader"/>. One thread at a time.
/// </summary>
public static class RasterFile
{
    private const int SignatureBytes = 8,
        LineCost = 4096;

    /// <summary>The format by the first bytes of a file: exr, png, tiff, jpeg, or null when they are none of these.</summary>
    public static string? FormatOf(ReadOnlySpan<byte> start) =>
        start switch
        {
            [0x76, 0x2f, 0x31, 0x01, ..] => "exr",
            [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, ..] => "png",
            [0x49, 0x49, 0x2a, 0x00, ..] or [0x4d, 0x4d, 0x00, 0x2a, ..] or [0x49, 0x49, 0x2b, 0x00, ..] or [0x4d, 0x4d, 0x00, 0x2b, ..] =>
                "tiff",
            [0xff, 0xd8, 0xff, ..] => "jpeg",
            _ => null,
        };

    /// <summary>The format by the first bytes of a file, or null.</summary>
    /// <exception cref="IOException">The file cannot be read.</exception>
    public static string? FormatOf(StorageFile file)
    {
        using FileStream stream = file.ToStream();
        Span<byte> start = stackalloc byte[SignatureBytes];
        return FormatOf(start[..stream.ReadAtLeast(start, SignatureBytes, throwOnEndOfStream: false)]);
    }

    /// <summary>Reads the header of a picture that is named as <paramref name="named"/>.</summary>
    /// <exception cref="ImageException">It is no such picture, contradicts itself or claims more than the limits allow.</exception>
    public static RasterHeader ReadHeader(StorageFile file, string named, RasterLimits limits)
    {
        string path = file.Path.Display;
        using FileStream stream = file.ToStream();
        Span<byte> start = stackalloc byte[SignatureBytes];
        string? format =
            FormatOf(start[..stream.ReadAtLeast(start, SignatureBytes, throwOnEndOfStream: false)]) ?? (named == "tga" ? "tga" : null);
        if (format != named)
        {
            throw new ImageException(
                path,
                0,
                format is null ? $"the file is not {Words(named)}" : $"the file is named {Words(named)} and is {Words(format)}"
            );
        }

        stream.Position = 0;
        RasterHeader header;
        try
        {
            header = format switch
            {
                "png" => PngHeader.Read(stream, path),
                "tiff" => TiffHeader.Read(stream, path),
                "jpeg" => JpegHeader.Read(stream, path),
                _ => TgaReader.ReadHeader(stream, path),
            };
        }
        catch (EndOfStreamException)
        {
            throw new ImageException(path, stream.Length, "the file ends inside its header");
        }

        if (header.Width <= 0 || header.Height <= 0)
        {
            throw new ImageException(path, 0, "the picture has no pixels");
        }

        if ((long)header.Width * header.Height > limits.MaxPixels || header.Width > limits.MaxWidth)
        {
            throw new ImageException(path, 0, $"the header claims {header.Width} × {header.Height} pixels, more than is allowed");
        }

        // Each line costs something by itself, however short it is.
        long cost = Math.Max((long)header.Width * header.PixelBytes, LineCost) * header.Height;
        if (cost > limits.FreeBytes && cost / limits.MaxExpansion > stream.Length)
        {
            throw new ImageException(
                path,
                0,
                $"the header claims {header.Width} × {header.Height} pixels of {header.PixelBytes} bytes in a file of "
                    + $"{stream.Length} bytes, "
                    + "far more than it can hold"
            );
        }

        return header.HeldBytes > limits.MaxHeldBytes
            ? header with
            {
                Unsupported =
                    $"it must be unpacked as a whole, which takes {header.HeldBytes >> 20} MiB; at most {limits.MaxHeldBytes >> 20} "
                    + $"MiB are used",
            }
            : header;
    }

    /// <summary>The name of a format for people.</summary>
    public static string Words(string format) => FileFormat.All.FirstOrDefault(f => f.Key == format)?.Name ?? format.ToUpperInvariant();

    /// <summary>Opens the pixels of a picture whose header was read. Nothing is decoded yet.</summary>
    /// <exception cref="ImageException">The pixels are of a kind that is not read.</exception>
    public static RasterReader OpenPixels(StorageFile file, RasterHeader header) =>
        header.Unsupported is { } unsupported ? throw new ImageException(file.Path.Display, 0, unsupported, ImageProblem.Unsupported)
        : header.Format == "tga" ? new TgaReader(file, header)
        : new VipsReader(file, header);

    /// <summary>Memory that reading the pixels takes.</summary>
    public static long ReadingBytes(RasterHeader header) =>
        header.HeldBytes + 4L * Math.Max(8 << 20, header.Width * (long)header.PixelBytes);

    /// <summary>Turns interleaved pixels into lines of one channel after the other.</summary>
    internal static void Split(ReadOnlySpan<byte> pixels, int width, int lines, int channels, ChannelType type, Span<byte> planar)
    {
        int bytes = type.Bytes(),
            stride = channels * bytes;
        for (int y = 0; y < lines; y++)
        {
            ReadOnlySpan<byte> line = pixels.Slice(y * width * stride, width * stride);
            for (int c = 0; c < channels; c++)
            {
                Span<byte> to = planar.Slice((y * channels + c) * width * bytes, width * bytes);
                for (int x = 0; x < width; x++)
                {
                    line.Slice(x * stride + c * bytes, bytes).CopyTo(to[(x * bytes)..]);
                }
            }
        }
    }

    /// <summary>Reads a big-endian number.</summary>
    internal static uint BigEndian(ReadOnlySpan<byte> bytes) => BinaryPrimitives.ReadUInt32BigEndian(bytes);
}
