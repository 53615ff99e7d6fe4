using System.Buffers;

namespace DuneCrate.Exr.Codecs;

/// <summary>
/// Undoes the prediction of <see cref="BytePrediction"/> straight into planes: the sums up to every line of every channel first, then
/// channel by channel, so that each plane is handed on while it is in the cache. Benchmark: bench/run pixels.
/// </summary>
internal static class PlanarPrediction
{
    /// <summary>Turns halves of differences into channel after channel, each with all its lines.</summary>
    /// <param name="halves">The differences of the bytes at even places, then of those at odd places.</param>
    /// <param name="planes">Gets the planes; as long as <paramref name="halves"/>.</param>
    /// <param name="shape">The chunk. Channels have samples of an even number of bytes, so that no pair of bytes is cut.</param>
    /// <param name="sink">Gets each plane as soon as it is there.</param>
    public static void Join(ReadOnlySpan<byte> halves, Span<byte> planes, in ExrChunkShape shape, IPlaneSink sink)
    {
        int channels = shape.Part.Channels.Length,
            second = halves.Length / 2,
            cells = channels * shape.Lines;
        int[] starts = ArrayPool<int>.Shared.Rent(cells);
        byte[] sums = ArrayPool<byte>.Shared.Rent(2 * cells);
        try
        {
            Span<byte> evens = sums.AsSpan(0, cells),
                odds = sums.AsSpan(cells, cells);
            Sum(halves, second, shape, starts, evens, odds);
            int to = 0;
            for (int c = 0; c < channels; c++)
            {
                int first = to,
                    bytes = shape.LineBytes(c);
                if (!sink.Wants(c))
                {
                    to += bytes * shape.LinesOf(c);
                    continue;
                }

                for (int line = 0; line < shape.Lines; line++)
                {
                    if (shape.Has(c, shape.Box.MinY + line))
                    {
                        int cell = line * channels + c,
                            start = starts[cell];
                        ReadOnlySpan<byte> even = halves.Slice(start, bytes / 2),
                            odd = halves.Slice(second + start, bytes / 2);
                        BytePrediction.Join(even, odd, evens[cell], odds[cell], planes.Slice(to, bytes));
                        to += bytes;
                    }
                }

                sink.Take(c, planes[first..to]);
            }
        }
        finally
        {
            ArrayPool<int>.Shared.Return(starts);
            ArrayPool<byte>.Shared.Return(sums);
        }
    }

    /// <summary>By line and channel: where its bytes begin in each half, and the values of the bytes before them.</summary>
    private static void Sum(
        ReadOnlySpan<byte> halves,
        int second,
        in ExrChunkShape shape,
        Span<int> starts,
        Span<byte> evens,
        Span<byte> odds
    )
    {
        byte even = BytePrediction.Start,
            odd = 0;
        int cell = 0,
            start = 0;
        for (int y = shape.Box.MinY; y <= shape.Box.MaxY; y++)
        {
            for (int c = 0; c < shape.Part.Channels.Length; c++, cell++)
            {
                (starts[cell], evens[cell], odds[cell]) = (start, even, odd);
                if (shape.Has(c, y))
                {
                    int pairs = shape.LineBytes(c) / 2;
                    even += BytePrediction.Total(halves.Slice(start, pairs));
                    odd += BytePrediction.Total(halves.Slice(second + start, pairs));
                    start += pairs;
                }
            }
        }

        // The odd bytes go on where the last even one ended.
        for (int i = 0; i < cell; i++)
        {
            odds[i] += even;
        }
    }
}
