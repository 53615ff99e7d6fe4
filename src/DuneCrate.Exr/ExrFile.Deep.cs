using System.Buffers.Binary;
using System.Runtime.InteropServices;

namespace DuneCrate.Exr;

/// <content>Deep parts.</content>
public sealed partial class ExrFile
{
    /// <summary>Samples of a deep part by walking the tables of counts of its level 0; null when one of them cannot be read.</summary>
    public long? CountDeepSamples(ExrPart part, CancellationToken cancel = default)
    {
        if (!part.IsDeep || part.Compression.Codec is not { } codec || part.Compression.Code > 3)
        {
            return null;
        }

        long samples = 0;
        for (int i = 0; i < part.Chunks.Count && part.Chunks[i] is { LevelX: 0, LevelY: 0 } chunk; i++)
        {
            cancel.ThrowIfCancellationRequested();
            long offset = ChunkTables[part.Index][i];
            int headSize = ExrChunkTable.HeadBytes(part, _isMultiPart);
            int pixels = (int)(chunk.Box.Width * chunk.Box.Height);
            if (
                !ExrChunkTable.IsUsable(offset, Length, _tablesEnd)
                || pixels * 4L > _limits.MaxChunkBytes
                || Ahead(offset, headSize) is var head && head.Length < headSize
            )
            {
                return null;
            }

            long packedSize = BinaryPrimitives.ReadInt64LittleEndian(Ahead(offset, headSize)[(headSize - 24)..]);
            if (
                packedSize < 0
                || packedSize > pixels * 4L
                || AheadMemory(offset + headSize, (int)packedSize) is var packed && packed.Length < packedSize
            )
            {
                return null;
            }

            Grow(ref _tile, pixels * 4);
            Grow(ref _scratch, pixels * 4);
            Span<byte> counts = _tile.AsSpan(0, pixels * 4);
            try
            {
                if (packedSize == counts.Length)
                {
                    AheadMemory(offset + headSize, (int)packedSize).Span.CopyTo(counts);
                }
                else
                {
                    codec.Decode(AheadMemory(offset + headSize, (int)packedSize), counts, _scratch.AsSpan(0, pixels * 4), default);
                }
            }
            catch (InvalidDataException)
            {
                return null;
            }

            // Counts add up along each line.
            ReadOnlySpan<int> sums = MemoryMarshal.Cast<byte, int>(counts);
            for (int y = 1; y <= chunk.Box.Height; y++)
            {
                int ofLine = sums[y * (int)chunk.Box.Width - 1];
                if (ofLine < 0)
                {
                    return null;
                }

                samples += ofLine;
            }
        }

        return samples;
    }
}
