using System.Buffers;
using System.Buffers.Binary;
using DuneCrate.Core.Storage;

namespace DuneCrate.Core.Images.Exr;

/// <summary>
/// Writes scan-line files, single- or multi-part, compressed with NONE, RLE, ZIPS, ZIP or PIZ. The same images give the same bytes.
/// Little-endian machines only, as all that .NET runs on here.
/// </summary>
public static class ExrWriter
{
    /// <summary>
    /// Writes a file under a name of its own and then gives it its name; an existing one is replaced only by a whole one.
    /// </summary>
    /// <exception cref="NotSupportedException">A part is tiled, deep, or uses a compression that is not written; nothing has changed
    /// then.</exception>
    /// <exception cref="IOException">The disk refuses; what was there before is there still.</exception>
    public static void Write(StoragePath path, params IReadOnlyList<ExrImage> images)
    {
        CheckWritten(images);
        path.Replace(stream => Write(stream, images), isLasting: false);
    }

    private static void CheckWritten(IReadOnlyList<ExrImage> images)
    {
        if (
            images.FirstOrDefault(i => i.Part.Unsupported is not null || i.Part.Tiling is not null || !i.Part.Compression.IsWritten) is
            { } refused
        )
        {
            throw new NotSupportedException(
                refused.Part.Unsupported
                    ?? (
                        refused.Part.Tiling is not null
                            ? "tiles are read and not written"
                            : $"{refused.Part.Compression.Name} is read and not written; use none, rle, zips, zip or piz"
                    )
            );
        }
    }

    /// <summary>Writes to a seekable stream, from its present position, which must be its start.</summary>
    public static void Write(Stream stream, params IReadOnlyList<ExrImage> images)
    {
        CheckWritten(images);
        stream.Write(ExrHeaderWriter.Write([.. images.Select(i => i.Part)]));
        long tables = stream.Position;
        long[][] offsets = [.. images.Select(i => new long[i.Part.Chunks.Count])];
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
        Span<byte> header = stackalloc byte[12];
        for (int step = 0; step < offsets.Length; step++)
        {
            int index = part.LineOrder == ExrLineOrder.Decreasing ? offsets.Length - 1 - step : step;
            var shape = new ExrChunkShape(part, part.Chunks[index].Box);
            int size = checked((int)shape.Bytes);
            byte[] lines = ArrayPool<byte>.Shared.Rent(size),
                packed = ArrayPool<byte>.Shared.Rent(size),
                scratch = ArrayPool<byte>.Shared.Rent(size);
            FillLines(image, shape, lines);
            int length = part.Compression.Codec!.Encode(lines.AsSpan(0, size), packed.AsSpan(0, size), scratch.AsSpan(0, size), shape);
            ReadOnlySpan<byte> data = length < 0 ? lines.AsSpan(0, size) : packed.AsSpan(0, length);
            offsets[index] = stream.Position;
            BinaryPrimitives.WriteInt32LittleEndian(header, partNumber ?? 0);
            BinaryPrimitives.WriteInt32LittleEndian(header[4..], shape.Box.MinY);
            BinaryPrimitives.WriteInt32LittleEndian(header[8..], data.Length);
            stream.Write(partNumber is null ? header[4..] : header);
            stream.Write(data);
            ArrayPool<byte>.Shared.Return(lines);
            ArrayPool<byte>.Shared.Return(packed);
            ArrayPool<byte>.Shared.Return(scratch);
        }
    }

    private static void FillLines(ExrImage image, in ExrChunkShape shape, Span<byte> lines)
    {
        ExrPart part = image.Part;
        int to = 0;
        for (int y = shape.Box.MinY; y <= shape.Box.MaxY; y++)
        {
            for (int c = 0; c < part.Channels.Length; c++)
            {
                if (shape.Has(c, y))
                {
                    int samples = shape.Samples(c),
                        line = (y - part.DataWindow.MinY) / part.Channels[c].YSampling;
                    ExrImage.FromFloats(
                        image.Planes[part.Channels[c].Name].AsSpan(line * samples, samples),
                        part.Channels[c].Type,
                        lines.Slice(to, shape.LineBytes(c))
                    );
                    to += shape.LineBytes(c);
                }
            }
        }
    }
}
