using System.Buffers.Binary;
using DuneCrate.Exr.Codecs;

namespace DuneCrate.Exr;

/// <content>Chunks and bands.</content>
public sealed partial class ExrFile
{
    private const string EndsInside = "the file ends inside a chunk";

    /// <summary>
    /// Reads and unpacks a band of whole lines: one chunk of a scan-line part, a row of tiles of a tiled one. <paramref name="lines"/> must
    /// hold at least
    /// <see cref="BandBytes"/>; what is used is returned, arranged as <see cref="ExrChunkShape"/> says.
    /// </summary>
    /// <exception cref="ImageException">A chunk is missing, damaged, or of a kind that is not read.</exception>
    public Span<byte> ReadBand(ExrPart part, int band, Span<byte> lines)
    {
        (int first, int count) = part.Chunks.ChunksOfBand(band);
        if (part.Tiling is null)
        {
            return ReadChunk(part, first, lines);
        }

        PixelBox box = part.Chunks.BandBox(band);
        Span<byte> whole = lines[..BandBytes(part, band)];
        long bytesPerLine = box.Width * part.BytesPerPixel;
        for (int i = first; i < first + count; i++)
        {
            PixelBox tile = part.Chunks[i].Box;
            int across = (int)tile.Width;
            ReadOnlySpan<byte> pixels = ReadTile(part, i);
            for (int y = 0; y < tile.Height; y++)
            {
                for (int c = 0; c < part.Channels.Length; c++)
                {
                    int bytes = part.Channels[c].Type.Bytes();
                    pixels
                        .Slice(y * across * part.BytesPerPixel + part.PixelOffsets[c] * across, bytes * across)
                        .CopyTo(whole[(int)(y * bytesPerLine + part.PixelOffsets[c] * box.Width + ((long)tile.MinX - box.MinX) * bytes)..]);
                }
            }
        }

        return whole;
    }

    /// <summary>
    /// Reads and unpacks a band like <see cref="ReadBand"/>, but channel after channel, each with all its lines, and hands each plane on as
    /// soon as it is there. A band that cannot be unpacked hands nothing on.
    /// </summary>
    /// <param name="part">The part; none of its channels is subsampled.</param>
    /// <param name="band">The band.</param>
    /// <param name="planes">Room for <see cref="BandBytes"/>.</param>
    /// <param name="sink">Gets the planes.</param>
    /// <returns>What is used of <paramref name="planes"/>.</returns>
    /// <exception cref="ImageException">A chunk is missing, damaged, or of a kind that is not read.</exception>
    public Span<byte> ReadPlanes(ExrPart part, int band, Span<byte> planes, IPlaneSink sink)
    {
        (int first, int count) = part.Chunks.ChunksOfBand(band);
        if (part.Tiling is null)
        {
            return ReadChunkPlanes(part, first, planes, sink);
        }

        PixelBox box = part.Chunks.BandBox(band);
        Span<byte> whole = planes[..BandBytes(part, band)];
        for (int i = first; i < first + count; i++)
        {
            PixelBox tile = part.Chunks[i].Box;
            ReadOnlySpan<byte> pixels = ReadTile(part, i);
            int across = (int)tile.Width,
                from = 0;
            for (int y = 0; y < tile.Height; y++)
            {
                for (int c = 0; c < part.Channels.Length; c++)
                {
                    int bytes = part.Channels[c].Type.Bytes();
                    long plane = part.PixelOffsets[c] * box.Width * box.Height,
                        at = (y * box.Width + tile.MinX - box.MinX) * bytes;
                    pixels.Slice(from, bytes * across).CopyTo(whole[(int)(plane + at)..]);
                    from += bytes * across;
                }
            }
        }

        PlanarLines.Hand(whole, new ExrChunkShape(part, box), sink);
        return whole;
    }

    /// <summary>
    /// Reads and unpacks one chunk, arranged as <see cref="ExrChunkShape"/> says; the part of <paramref name="lines"/> that is used is
    /// returned.
    /// </summary>
    /// <exception cref="ImageException">The chunk is missing, damaged, or of a kind that is not read.</exception>
    public Span<byte> ReadChunk(ExrPart part, int index, Span<byte> lines)
    {
        PackedChunk chunk = Find(part, index);
        Span<byte> target = lines[..chunk.Size];
        if (chunk.IsStored)
        {
            return ReadInto(target, chunk.Data) ? target : throw Lost(chunk.Offset, EndsInside);
        }

        ReadOnlyMemory<byte> packed = Packed(chunk);
        try
        {
            part.Compression.Codec!.Decode(packed, target, _scratch.AsSpan(0, chunk.Size), chunk.Shape);
        }
        catch (InvalidDataException e)
        {
            throw Lost(chunk.Offset, e.Message);
        }

        return target;
    }

    private Span<byte> ReadChunkPlanes(ExrPart part, int index, Span<byte> planes, IPlaneSink sink)
    {
        PackedChunk chunk = Find(part, index);
        Span<byte> target = planes[..chunk.Size];
        if (chunk.IsStored)
        {
            Grow(ref _scratch, chunk.Size);
            Span<byte> lines = _scratch.AsSpan(0, chunk.Size);
            if (!ReadInto(lines, chunk.Data))
            {
                throw Lost(chunk.Offset, EndsInside);
            }

            PlanarLines.FromLines(lines, target, chunk.Shape);
            PlanarLines.Hand(target, chunk.Shape, sink);
            return target;
        }

        ReadOnlyMemory<byte> packed = Packed(chunk);
        try
        {
            part.Compression.Codec!.DecodePlanes(packed, target, _scratch.AsSpan(0, chunk.Size), chunk.Shape, sink);
        }
        catch (InvalidDataException e)
        {
            throw Lost(chunk.Offset, e.Message);
        }

        return target;
    }

    private ReadOnlySpan<byte> ReadTile(ExrPart part, int index)
    {
        Grow(ref _tile, Checked(new ExrChunkShape(part, part.Chunks[index].Box).Bytes));
        return ReadChunk(part, index, _tile);
    }

    /// <summary>Where a chunk lies, as its head says, after every claim of it has been held against the file.</summary>
    private PackedChunk Find(ExrPart part, int index)
    {
        if (part.Unsupported is { } reason)
        {
            throw new ImageException(Path, 0, reason, ImageProblem.Unsupported);
        }

        ExrChunk chunk = part.Chunks[index];
        var shape = new ExrChunkShape(part, chunk.Box);
        int size = Checked(shape.Bytes),
            headSize = ExrChunkTable.HeadBytes(part, _isMultiPart);
        long offset = Offset(part, index);
        ReadOnlySpan<byte> head = Ahead(offset, headSize);
        if (head.Length < headSize)
        {
            throw Lost(offset, EndsInside);
        }

        int packedSize = BinaryPrimitives.ReadInt32LittleEndian(head[(headSize - 4)..]);
        CheckHead(part, chunk, head, offset);
        if (packedSize < 0 || packedSize > size)
        {
            throw Lost(offset, $"{Named(part, chunk)} says it has {packedSize} bytes where at most {size} belong");
        }

        if (offset + headSize + packedSize > Length)
        {
            throw Lost(offset, EndsInside);
        }

        if ((long)packedSize * _limits.MaxExpansion * (part.Compression.Codec?.ExpansionFactor ?? 1) < size)
        {
            throw Lost(offset, $"{packedSize} bytes cannot unpack to {size}");
        }

        return new PackedChunk(shape, offset, offset + headSize, packedSize, size);
    }

    /// <summary>The packed bytes of a chunk; makes room for what unpacking goes through.</summary>
    private ReadOnlyMemory<byte> Packed(in PackedChunk chunk)
    {
        ReadOnlyMemory<byte> packed = AheadMemory(chunk.Data, chunk.PackedSize);
        if (packed.Length < chunk.PackedSize)
        {
            throw Lost(chunk.Offset, EndsInside);
        }

        Grow(ref _scratch, chunk.Size);
        return packed;
    }

    /// <summary>A chunk in the file: where it begins, where its data do, and how many bytes they are packed and unpacked.</summary>
    private readonly record struct PackedChunk(ExrChunkShape Shape, long Offset, long Data, int PackedSize, int Size)
    {
        public bool IsStored => PackedSize == Size;
    }

    private long Offset(ExrPart part, int index)
    {
        long offset = ChunkTables[part.Index][index];
        return ExrChunkTable.IsUsable(offset, Length, _tablesEnd)
            ? offset
            : throw Lost(offset, offset <= 0 ? "the chunk was never written" : "the chunk lies beyond the end of the file");
    }

    private void CheckHead(ExrPart part, in ExrChunk chunk, ReadOnlySpan<byte> head, long offset)
    {
        ReadOnlySpan<byte> own = _isMultiPart ? head[4..] : head;
        bool isRight = part.Tiling is null
            ? BinaryPrimitives.ReadInt32LittleEndian(own) == chunk.Box.MinY
            : BinaryPrimitives.ReadInt32LittleEndian(own) == chunk.TileX
                && BinaryPrimitives.ReadInt32LittleEndian(own[4..]) == chunk.TileY
                && BinaryPrimitives.ReadInt32LittleEndian(own[8..]) == chunk.LevelX
                && BinaryPrimitives.ReadInt32LittleEndian(own[12..]) == chunk.LevelY;
        if (!isRight || (_isMultiPart && BinaryPrimitives.ReadInt32LittleEndian(head) != part.Index))
        {
            throw Lost(offset, $"where {Named(part, chunk)} should be there is something else");
        }
    }

    private static string Named(ExrPart part, in ExrChunk chunk) =>
        part.Tiling is null ? $"the chunk for line {chunk.Box.MinY}" : $"the tile {chunk.TileX}, {chunk.TileY}";
}
