using System.Buffers.Binary;
using DuneCrate.Core.Passes;

namespace DuneCrate.Core.Images.Rasters;

/// <summary>
/// TGA: true colour of 24 and 32 bits and grey of 8, plain and run-length encoded, from any corner. Source: Truevision, <em>TGA FILE FORMAT SPECIFICATION</em>, version 2.0.
/// </summary>
internal static class TgaReader
{
    private const int HeaderBytes = 18, FooterBytes = 26, AttributesAt = 494;

    /// <summary>Reads the header, and from the extension area of newer files what their alpha is.</summary>
    public static RasterHeader ReadHeader(FileStream stream, string path)
    {
        Span<byte> head = stackalloc byte[HeaderBytes];
        stream.ReadExactly(head);
        (byte map, byte type, byte depth, byte descriptor) = (head[1], head[2], head[16], head[17]);
        if (map > 1 || type is not (1 or 2 or 3 or 9 or 10 or 11) || depth is not (8 or 15 or 16 or 24 or 32))
        {
            throw new ImageException(path, 0, "the file is not TGA");
        }

        bool isGrey = type is 3 or 11, isColour = type is 2 or 10;
        return new RasterHeader
        {
            Format = "tga",
            Width = BinaryPrimitives.ReadUInt16LittleEndian(head[12..]),
            Height = BinaryPrimitives.ReadUInt16LittleEndian(head[14..]),
            Type = ChannelType.UInt8,
            Channels = isGrey ? ["Y"] : depth == 32 ? ["R", "G", "B", "A"] : ["R", "G", "B"],
            Compression = type >= 9 ? "rle" : "none",
            Alpha = depth != 32 ? null : Attributes(stream) ?? ((descriptor & 15) > 0 ? "straight" : "unspecified"),
            Unsupported = (isColour && depth >= 24) || (isGrey && depth == 8) ? null : $"TGA of type {type} with {depth} bits",
        };
    }

    /// <summary>The attributes type of the extension area: 3 straight, 4 premultiplied.</summary>
    private static string? Attributes(FileStream stream)
    {
        Span<byte> footer = stackalloc byte[FooterBytes];
        if (stream.Length < HeaderBytes + FooterBytes)
        {
            return null;
        }

        stream.Position = stream.Length - FooterBytes;
        stream.ReadExactly(footer);
        long area = BinaryPrimitives.ReadUInt32LittleEndian(footer);
        if (!footer[8..24].SequenceEqual("TRUEVISION-XFILE"u8) || area == 0 || area + AttributesAt >= stream.Length)
        {
            return null;
        }

        stream.Position = area + AttributesAt;
        return stream.ReadByte() switch { 3 => "straight", 4 => "premultiplied", _ => "unspecified" };
    }

    /// <summary>Decodes the whole picture (at most 65,535² pixels by the format; limits are checked before) and gives it in one band.</summary>
    public static void ReadBands(string path, RasterHeader header, TakeBand take, CancellationToken cancel)
    {
        byte[] file = File.ReadAllBytes(path);
        int channels = header.Channels.Length, stride = header.Width * channels;
        byte map = file[1], descriptor = file[17];
        int at = HeaderBytes + file[0] + (map == 1 ? BinaryPrimitives.ReadUInt16LittleEndian(file.AsSpan(5)) * ((file[7] + 7) / 8) : 0);
        bool fromTop = (descriptor & 0x20) != 0, fromRight = (descriptor & 0x10) != 0;
        byte[] line = new byte[stride], planar = new byte[stride];
        var lines = new byte[header.Height][];
        int read = 0;
        var source = new Runs(file, at, channels, header.Compression == "rle");
        for (; read < header.Height && source.Read(line); read++)
        {
            cancel.ThrowIfCancellationRequested();
            RasterFile.Split(Ordered(line, channels, fromRight), header.Width, 1, channels, ChannelType.UInt8, planar);
            if (fromTop)
            {
                take(planar, read, 1);
            }
            else
            {
                lines[read] = [.. planar];
            }
        }

        for (int y = header.Height - read; !fromTop && y < header.Height; y++)
        {
            take(lines[header.Height - 1 - y], y, 1);
        }

        if (read < header.Height)
        {
            throw new ImageException(path, file.Length, "the file ends before its picture does", ImageProblem.Truncated);
        }
    }

    /// <summary>Blue, green, red, alpha → red, green, blue, alpha; left to right.</summary>
    private static byte[] Ordered(byte[] line, int channels, bool fromRight)
    {
        byte[] ordered = [.. line];
        int width = line.Length / channels;
        for (int x = 0; x < width; x++)
        {
            int from = (fromRight ? width - 1 - x : x) * channels, to = x * channels;
            for (int c = 0; c < channels; c++)
            {
                ordered[to + c] = line[from + (c < 3 && channels >= 3 ? 2 - c : c)];
            }
        }

        return ordered;
    }

    /// <summary>Pixels one line at a time; packets of run-length encoded files may cross lines.</summary>
    private sealed class Runs(byte[] file, int at, int channels, bool isPacked)
    {
        private int _left;
        private bool _repeats;

        public bool Read(Span<byte> line)
        {
            if (!isPacked)
            {
                if (at + line.Length > file.Length)
                {
                    return false;
                }

                file.AsSpan(at, line.Length).CopyTo(line);
                at += line.Length;
                return true;
            }

            for (int x = 0; x < line.Length; x += channels)
            {
                if (_left == 0)
                {
                    if (at + 1 + channels > file.Length)
                    {
                        return false;
                    }

                    byte packet = file[at++];
                    (_left, _repeats) = ((packet & 0x7f) + 1, (packet & 0x80) != 0);
                }

                if (at + channels > file.Length)
                {
                    return false;
                }

                file.AsSpan(at, channels).CopyTo(line[x..]);
                _left--;
                at += _repeats && _left > 0 ? 0 : channels;
            }

            return true;
        }
    }
}
