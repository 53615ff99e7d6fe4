using System.Buffers;
using System.Buffers.Binary;

namespace DuneCrate.Core.Images.Exr;

/// <summary>
/// Writes scan-line files, single- or multi-part, compressed with NONE, RLE, ZIPS or ZIP. The same images give the same bytes.
/// Little-endian machines only, as all that .NET runs on here.
/// </summary>
public static class ExrWriter
{
    /// <summary>Writes a file; an existing one is replaced. A half-written file is removed when writing fails.</summary>
    /// <exception cref="NotSupportedException">A part uses a compression that is not written, or subsampled channels.</exception>
    public static void Write(string path, params IReadOnlyList<ExrImage> images)
    {
        try
        {
            using var stream = new FileStream(path, FileMode.Create, FileAccess.Write, FileShare.None, 1 << 16);
            Write(stream, images);
        }
        catch
        {
            File.Delete(path);
            throw;
        }
    }

    /// <summary>Writes to a seekable stream, from its present position, which must be its start.</summary>
    public static void Write(Stream stream, params IReadOnlyList<ExrImage> images)
    {
        if (images.FirstOrDefault(i => i.Part.Unsupported is not null) is { } refused)
        {
            throw new NotSupportedException(refused.Part.Unsupported);
        }

        stream.Write(ExrHeaderWriter.Write([.. images.Select(i => i.Part)]));
        long tables = stream.Position;
        long[][] offsets = [.. images.Select(i => new long[i.Part.ChunkCount])];
        stream.Write(new byte[offsets.Sum(t => t.Length) * 8]);
        for (int i = 0; i < images.Count; i++)
        {
            WriteChunks(stream, images[i], images.Count > 1 ? i : null, offsets[i]);
        }

        stream.Position = tables;
        foreach (long offset in offsets.SelectMany(t => t))
        {
            stream.Write(BitConverter.GetBytes(offset));
        }

        stream.Position = stream.Length;
    }

    private static void WriteChunks(Stream stream, ExrImage image, int? partNumber, long[] offsets)
    {
        ExrPart part = image.Part;
        int size = checked((int)(part.BytesPerLine * part.Compression.LinesPerChunk));
        byte[] lines = ArrayPool<byte>.Shared.Rent(size), packed = ArrayPool<byte>.Shared.Rent(size), scratch = ArrayPool<byte>.Shared.Rent(size);
        Span<byte> header = stackalloc byte[12];
        for (int step = 0; step < offsets.Length; step++)
        {
            int chunk = part.LineOrder == ExrLineOrder.Decreasing ? offsets.Length - 1 - step : step;
            (int first, int last) = ExrFile.LinesOf(part, chunk);
            int used = (last - first + 1) * (int)part.BytesPerLine;
            FillLines(image, first, last, lines);
            int length = part.Compression.Codec!.Encode(lines.AsSpan(0, used), packed.AsSpan(0, used), scratch.AsSpan(0, used));
            ReadOnlySpan<byte> data = length < 0 ? lines.AsSpan(0, used) : packed.AsSpan(0, length);
            offsets[chunk] = stream.Position;
            BinaryPrimitives.WriteInt32LittleEndian(header, partNumber ?? 0);
            BinaryPrimitives.WriteInt32LittleEndian(header[4..], first);
            BinaryPrimitives.WriteInt32LittleEndian(header[8..], data.Length);
            stream.Write(partNumber is null ? header[4..] : header);
            stream.Write(data);
        }

        ArrayPool<byte>.Shared.Return(lines);
        ArrayPool<byte>.Shared.Return(packed);
        ArrayPool<byte>.Shared.Return(scratch);
    }

    private static void FillLines(ExrImage image, int first, int last, Span<byte> lines)
    {
        ExrPart part = image.Part;
        int width = image.Width;
        for (int c = 0; c < part.Channels.Length; c++)
        {
            float[] plane = image.Planes[part.Channels[c].Name];
            int bytes = Passes.ChannelTypes.Bytes(part.Channels[c].Type) * width;
            for (int y = first; y <= last; y++)
            {
                ExrImage.FromFloats(
                    plane.AsSpan((y - part.DataWindow.MinY) * width, width), part.Channels[c].Type,
                    lines.Slice((y - first) * (int)part.BytesPerLine + part.PixelOffsets[c] * width, bytes));
            }
        }
    }
}
