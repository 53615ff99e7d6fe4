using System.Runtime.CompilerServices;
using System.Runtime.Intrinsics;

namespace DuneCrate.Exr.Codecs;

/// <summary>
/// The two-dimensional Haar-like transform of PIZ over 16-bit words, in place: averages and differences of 2 × 2 words at doubling
/// distances. With fewer than
/// 2^14 distinct values the arithmetic is exact in 16 bits; otherwise it wraps modulo 2^16. The scheme is the reference implementation's.
/// </summary>
internal static class PizWavelet
{
    /// <summary>Undoes the transform.</summary>
    /// <param name="words">The words; a sample of the grid is at x·<paramref name="stepX"/> + y·<paramref name="stepY"/>.</param>
    /// <param name="width">Samples across.</param>
    /// <param name="stepX">Words from one sample to the next.</param>
    /// <param name="height">Lines.</param>
    /// <param name="stepY">Words from one line to the next.</param>
    /// <param name="largest">The largest value that occurs before the transform.</param>
    public static void Decode(Span<ushort> words, int width, int stepX, int height, int stepY, int largest)
    {
        bool isSmall = largest < 1 << 14;
        int distance = 1,
            shorter = Math.Min(width, height);
        while (distance <= shorter)
        {
            distance <<= 1;
        }

        for (int outer = distance >> 1, p = outer >> 1; p >= 1; outer = p, p >>= 1)
        {
            if (p == 1 && stepX == 1)
            {
                JoinPairs(words, width, height, stepY, isSmall);
            }
            else if (isSmall)
            {
                Level<Small>(words, width, stepX, height, stepY, p, outer, forward: false);
            }
            else
            {
                Level<Wrapping>(words, width, stepX, height, stepY, p, outer, forward: false);
            }
        }
    }

    /// <summary>
    /// The last level of <see cref="Decode"/> over words that lie side by side, three quarters of the work: first down, for sixteen columns
    /// at once, then across, for
    /// the pairs in each 32 bits. Benchmark: bench/run pixels.
    /// </summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static void JoinPairs(Span<ushort> words, int width, int height, int stepY, bool isSmall)
    {
        int whole = width - width % Vector256<ushort>.Count;
        for (int y = 0; y + 1 < height; y += 2)
        {
            Span<ushort> upper = words.Slice(y * stepY, width),
                lower = words.Slice((y + 1) * stepY, width);
            for (int x = 0; x < whole; x += Vector256<ushort>.Count)
            {
                Vector256<ushort> low = Vector256.Create<ushort>(upper[x..]),
                    high = Vector256.Create<ushort>(lower[x..]);
                if (isSmall)
                {
                    Vector256<short> h = high.AsInt16(),
                        a = low.AsInt16() + (h & Vector256<short>.One) + (h >> 1);
                    Across(a.AsUInt16(), isSmall).CopyTo(upper[x..]);
                    Across((a - h).AsUInt16(), isSmall).CopyTo(lower[x..]);
                }
                else
                {
                    Vector256<ushort> b = low - (high >> 1);
                    Across(high + b - Vector256.Create((ushort)0x8000), isSmall).CopyTo(upper[x..]);
                    Across(b, isSmall).CopyTo(lower[x..]);
                }
            }
        }

        if (height % 2 != 0)
        {
            Span<ushort> last = words.Slice((height - 1) * stepY, width);
            for (int x = 0; x < whole; x += Vector256<ushort>.Count)
            {
                Across(Vector256.Create<ushort>(last[x..]), isSmall).CopyTo(last[x..]);
            }
        }

        // What is left over on the right is a transform of its own: columns from an even place on.
        if (whole < width)
        {
            if (isSmall)
            {
                Level<Small>(words[whole..], width - whole, 1, height, stepY, 1, 2, forward: false);
            }
            else
            {
                Level<Wrapping>(words[whole..], width - whole, 1, height, stepY, 1, 2, forward: false);
            }
        }
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Vector256<ushort> Across(Vector256<ushort> pairs, bool isSmall)
    {
        Vector256<uint> both = pairs.AsUInt32();
        if (isSmall)
        {
            Vector256<int> low = (both << 16).AsInt32() >> 16,
                high = both.AsInt32() >> 16,
                a = low + (high & Vector256<int>.One) + (high >> 1);
            return ((a & Vector256.Create(0xffff)) | ((a - high) << 16)).AsUInt16();
        }

        Vector256<uint> mean = both & Vector256.Create(0xffffu),
            difference = both >> 16,
            b = mean - (difference >> 1);
        return (((difference + b - Vector256.Create(0x8000u)) & Vector256.Create(0xffffu)) | (b << 16)).AsUInt16();
    }

    /// <summary>Does the transform.</summary>
    /// <inheritdoc cref="Decode" path="/param"/>
    public static void Encode(Span<ushort> words, int width, int stepX, int height, int stepY, int largest)
    {
        bool isSmall = largest < 1 << 14;
        int shorter = Math.Min(width, height);
        for (int p = 1, outer = 2; outer <= shorter; p = outer, outer <<= 1)
        {
            if (isSmall)
            {
                Level<Small>(words, width, stepX, height, stepY, p, outer, forward: true);
            }
            else
            {
                Level<Wrapping>(words, width, stepX, height, stepY, p, outer, forward: true);
            }
        }
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static void Level<TStep>(Span<ushort> words, int width, int stepX, int height, int stepY, int p, int outer, bool forward)
        where TStep : struct, IStep
    {
        int ox = stepX * p,
            oy = stepY * p,
            y = 0;
        for (; y <= height - outer; y += outer)
        {
            int line = y * stepY,
                x = 0;
            for (; x <= width - outer; x += outer)
            {
                int at = line + x * stepX;
                ref ushort a = ref words[at];
                ref ushort b = ref words[at + ox];
                ref ushort c = ref words[at + oy];
                ref ushort d = ref words[at + oy + ox];
                if (forward)
                {
                    (ushort i00, ushort i01) = TStep.Split(a, b);
                    (ushort i10, ushort i11) = TStep.Split(c, d);
                    (a, c) = TStep.Split(i00, i10);
                    (b, d) = TStep.Split(i01, i11);
                }
                else
                {
                    (ushort i00, ushort i10) = TStep.Join(a, c);
                    (ushort i01, ushort i11) = TStep.Join(b, d);
                    (a, b) = TStep.Join(i00, i01);
                    (c, d) = TStep.Join(i10, i11);
                }
            }

            if ((width & p) != 0)
            {
                int at = line + x * stepX;
                (words[at], words[at + oy]) = forward ? TStep.Split(words[at], words[at + oy]) : TStep.Join(words[at], words[at + oy]);
            }
        }

        if ((height & p) != 0)
        {
            for (int x = 0, line = y * stepY; x <= width - outer; x += outer)
            {
                int at = line + x * stepX;
                (words[at], words[at + ox]) = forward ? TStep.Split(words[at], words[at + ox]) : TStep.Join(words[at], words[at + ox]);
            }
        }
    }

    /// <summary>One average and difference, and back.</summary>
    private interface IStep
    {
        static abstract (ushort Low, ushort High) Split(ushort a, ushort b);

        static abstract (ushort A, ushort B) Join(ushort low, ushort high);
    }

    private readonly struct Small : IStep
    {
        [MethodImpl(MethodImplOptions.AggressiveInlining)]
        public static (ushort, ushort) Split(ushort a, ushort b) => ((ushort)(((short)a + (short)b) >> 1), (ushort)((short)a - (short)b));

        [MethodImpl(MethodImplOptions.AggressiveInlining)]
        public static (ushort, ushort) Join(ushort low, ushort high)
        {
            int h = (short)high,
                a = (short)low + (h & 1) + (h >> 1);
            return ((ushort)a, (ushort)(a - h));
        }
    }

    private readonly struct Wrapping : IStep
    {
        private const int Offset = 1 << 15;

        [MethodImpl(MethodImplOptions.AggressiveInlining)]
        public static (ushort, ushort) Split(ushort a, ushort b)
        {
            int shifted = (a + Offset) & 0xffff,
                mean = (shifted + b) >> 1,
                difference = shifted - b;
            return ((ushort)(difference < 0 ? mean + Offset : mean), (ushort)difference);
        }

        [MethodImpl(MethodImplOptions.AggressiveInlining)]
        public static (ushort, ushort) Join(ushort low, ushort high)
        {
            int b = (low - (high >> 1)) & 0xffff;
            return ((ushort)(high + b - Offset), (ushort)b);
        }
    }
}
