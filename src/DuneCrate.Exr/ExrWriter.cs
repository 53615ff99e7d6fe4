using System.Buffers;

namespace DuneCrate.Exr;

/// <summary>
/// Writes scan-line files, single- or multi-part, compressed with NONE, RLE, ZIPS, ZIP or PIZ. The same images give the same bytes.
/// Little-endian machines only, as all that .NET runs on here.
/// </summary>
public static class ExrWriter
{
    /// <summary>Says no before anything is written to what cannot be written.</summary>
    /// <exception cref="NotSupportedException">A part is tiled, deep, or uses a compression that is not written.</exception>
    public static void Check(IReadOnlyList<ExrImage> images)
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
        Check(images);
        using ExrChunkWriter writer = new(stream, [.. images.Select(i => i.Part)]);
        for (int i = 0; i < images.Count; i++)
        {
            WriteChunks(writer, images[i], i);
        }

        writer.Finish();
    }

    private static void WriteChunks(ExrChunkWriter writer, ExrImage image, int number)
    {
        ExrPart part = image.Part;
        for (int step = 0; step < part.Chunks.Count; step++)
        {
            int index = part.LineOrder == ExrLineOrder.Decreasing ? part.Chunks.Count - 1 - step : step;
            var shape = new ExrChunkShape(part, part.Chunks[index].Box);
            int size = checked((int)shape.Bytes);
            byte[] lines = ArrayPool<byte>.Shared.Rent(size);
            FillLines(image, shape, lines);
            writer.Write(number, index, lines.AsSpan(0, size));
            ArrayPool<byte>.Shared.Return(lines);
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
