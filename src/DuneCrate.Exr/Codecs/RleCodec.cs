namespace DuneCrate.Exr.Codecs;

/// <summary>
/// Byte run lengths over predicted bytes: a count n ≥ 0 repeats the next byte n + 1 times, a count n &lt; 0 copies −n bytes.
/// Source: <em>Technical Introduction to OpenEXR</em>, RLE.
/// </summary>
public sealed class RleCodec : IExrCodec
{
    private const int ShortestRun = 3,
        LongestRun = 127;

    /// <inheritdoc/>
    public void Decode(ReadOnlyMemory<byte> packed, Span<byte> lines, Span<byte> scratch, in ExrChunkShape shape)
    {
        Expand(packed.Span, scratch);
        BytePrediction.Join(scratch, lines);
    }

    /// <inheritdoc/>
    public void DecodePlanes(ReadOnlyMemory<byte> packed, Span<byte> planes, Span<byte> scratch, in ExrChunkShape shape, IPlaneSink sink)
    {
        Expand(packed.Span, scratch);
        PlanarPrediction.Join(scratch, planes, shape, sink);
    }

    /// <summary>Expands run lengths to exactly as many bytes as <paramref name="to"/> holds.</summary>
    /// <exception cref="InvalidDataException">They make fewer or more.</exception>
    internal static void Expand(ReadOnlySpan<byte> from, Span<byte> to)
    {
        int written = 0;
        for (int i = 0; i < from.Length; )
        {
            int count = (sbyte)from[i++];
            int length = count < 0 ? -count : count + 1,
                used = count < 0 ? length : 1;
            if (used > from.Length - i || length > to.Length - written)
            {
                throw new InvalidDataException("a run of bytes goes beyond the chunk");
            }

            if (count < 0)
            {
                from.Slice(i, length).CopyTo(to[written..]);
            }
            else
            {
                to.Slice(written, length).Fill(from[i]);
            }

            i += used;
            written += length;
        }

        if (written != to.Length)
        {
            throw new InvalidDataException($"the chunk unpacks to {written} bytes where {to.Length} belong");
        }
    }

    /// <inheritdoc/>
    public int Encode(ReadOnlySpan<byte> lines, Span<byte> packed, Span<byte> scratch, in ExrChunkShape shape)
    {
        BytePrediction.Split(lines, scratch);
        int written = 0;
        for (int start = 0; start < scratch.Length; )
        {
            int run = RunAt(scratch, start);
            int end = start + run;
            if (run < ShortestRun)
            {
                while (end < scratch.Length && end - start < LongestRun && RunAt(scratch, end) < ShortestRun)
                {
                    end++;
                }
            }

            int needed = run >= ShortestRun ? 2 : end - start + 1;
            if (written + needed >= packed.Length)
            {
                return -1;
            }

            if (run >= ShortestRun)
            {
                packed[written] = (byte)(run - 1);
                packed[written + 1] = scratch[start];
            }
            else
            {
                end = Math.Min(end, start + LongestRun);
                packed[written] = (byte)(start - end);
                scratch[start..end].CopyTo(packed[(written + 1)..]);
            }

            written += needed;
            start = end;
        }

        return written;
    }

    private static int RunAt(ReadOnlySpan<byte> bytes, int start)
    {
        int end = start + 1;
        while (end < bytes.Length && end - start < LongestRun + 1 && bytes[end] == bytes[start])
        {
            end++;
        }

        return end - start;
    }
}
