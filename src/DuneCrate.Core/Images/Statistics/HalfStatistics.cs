using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;

namespace DuneCrate.Core.Images.Statistics;

/// <summary>
/// Statistics of half samples by counting each of the 65,536 bit patterns: everything else follows from the counts exactly.
/// Benchmark: bench/pixel-check.
/// </summary>
internal sealed class HalfStatistics : ChannelStatistics
{
    private const ushort Exponent = 0x7C00, Mantissa = 0x03FF;

    private static readonly double[] Values = [.. Enumerable.Range(0, 65536).Select(bits => (double)BitConverter.UInt16BitsToHalf((ushort)bits))];

    private readonly int[] _counts = new int[65536];

    public override void Reset()
    {
        base.Reset();
        Array.Clear(_counts);
    }

    protected override void Add(ReadOnlySpan<byte> samples, int x, int y)
    {
        ReadOnlySpan<ushort> bits = MemoryMarshal.Cast<byte, ushort>(samples);
        ref int counts = ref MemoryMarshal.GetArrayDataReference(_counts);
        int i = 0;
        if (bits.Length >= 4)
        {
            // Flat stretches would wait on one counter; four equal samples after four equal ones only add to a repeat count.
            ReadOnlySpan<ulong> blocks = MemoryMarshal.Cast<ushort, ulong>(bits[..(bits.Length & ~3)]);
            ulong last = blocks[0];
            int repeat = 0;
            foreach (ulong block in blocks)
            {
                if (block == last)
                {
                    repeat++;
                    continue;
                }

                Count(ref counts, last, repeat);
                (last, repeat) = (block, 1);
            }

            Count(ref counts, last, repeat);
            i = blocks.Length * 4;
        }

        for (; i < bits.Length; i++)
        {
            Unsafe.Add(ref counts, bits[i])++;
        }

        if (HasNonFinite(bits))
        {
            for (int k = 0; k < bits.Length; k++)
            {
                if ((bits[k] & Exponent) == Exponent)
                {
                    NoteNonFinite(x + k, y);
                }
            }
        }
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static void Count(ref int counts, ulong block, int times)
    {
        Unsafe.Add(ref counts, (nint)(block & 0xffff)) += times;
        Unsafe.Add(ref counts, (nint)((block >> 16) & 0xffff)) += times;
        Unsafe.Add(ref counts, (nint)((block >> 32) & 0xffff)) += times;
        Unsafe.Add(ref counts, (nint)(block >> 48)) += times;
    }

    private static bool HasNonFinite(ReadOnlySpan<ushort> bits)
    {
        var exponent = new Vector<ushort>(Exponent);
        Vector<ushort> found = Vector<ushort>.Zero;
        int i = 0;
        for (; i <= bits.Length - Vector<ushort>.Count; i += Vector<ushort>.Count)
        {
            found |= Vector.Equals(new Vector<ushort>(bits[i..]) & exponent, exponent);
        }

        bool any = found != Vector<ushort>.Zero;
        for (; i < bits.Length; i++)
        {
            any |= (bits[i] & Exponent) == Exponent;
        }

        return any;
    }

    protected override SampleStatistics Moments()
    {
        double min = double.PositiveInfinity, max = double.NegativeInfinity, sum = 0;
        long finite = 0;
        int levels = 0;
        bool linear = true, srgb = true;
        var used = new List<int>();
        int width = Vector<int>.Count;
        for (int block = 0; block < 65536; block += width)
        {
            if (new Vector<int>(_counts, block) == Vector<int>.Zero)
            {
                continue;
            }

            for (int bits = block; bits < block + width; bits++)
            {
                int count = _counts[bits];
                if (count == 0)
                {
                    continue;
                }

                if ((bits & Exponent) == Exponent)
                {
                    (NanCount, InfCount) = (bits & Mantissa) != 0 ? (NanCount + count, InfCount) : (NanCount, InfCount + count);
                    continue;
                }

                used.Add(bits);
                double value = Values[bits];
                (min, max) = (Math.Min(min, value), Math.Max(max, value));
                sum += value * count;
                finite += count;
                levels++;
                linear &= LevelGrid.LinearHalf[bits];
                srgb &= LevelGrid.SrgbHalf[bits];
            }
        }

        if (finite == 0)
        {
            return new SampleStatistics();
        }

        double mean = sum / finite, squares = 0;
        foreach (int bits in used)
        {
            double off = Values[bits] - mean;
            squares += off * off * _counts[bits];
        }

        return new SampleStatistics
        {
            Min = min,
            Max = max,
            Mean = mean,
            StdDev = Math.Sqrt(squares / finite),
            Levels = levels,
            Grid = linear ? "linear" : srgb ? "srgb" : null,
        };
    }
}
