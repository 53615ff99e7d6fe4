using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;

namespace DuneCrate.Imaging.Statistics;

/// <summary>
/// Statistics of half samples by counting each of the 65,536 bit patterns: everything else follows from the counts exactly.
/// Benchmark: bench/run pixels.
/// </summary>
public sealed class HalfStatistics : ChannelStatistics
{
    private const ushort Exponent = 0x7C00,
        Mantissa = 0x03FF;

    private static readonly double[] Values =
    [
        .. Enumerable.Range(0, 65536).Select(bits => (double)BitConverter.UInt16BitsToHalf((ushort)bits)),
    ];

    private readonly int[] _counts = new int[65536];
    private short[] _greatest = new short[16];
    private short _greatestOfLine;

    public override void Reset()
    {
        base.Reset();
        Array.Clear(_counts);
    }

    /// <summary>
    /// The greatest sample of a line of those that were taken together last, as bits in order of size: negative numbers are below 0.
    /// </summary>
    public short GreatestOf(int row) => _greatest[row];

    protected override void EndRow(int row)
    {
        if (row >= _greatest.Length)
        {
            Array.Resize(ref _greatest, 2 * _greatest.Length);
        }

        _greatest[row] = _greatestOfLine;
    }

    protected override void Add(ReadOnlySpan<byte> samples, int x, int y)
    {
        ReadOnlySpan<ushort> bits = MemoryMarshal.Cast<byte, ushort>(samples);
        if (CountAll(bits))
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

    /// <summary>
    /// Counts a line's samples and notes the greatest; returns whether any is no number. Flat stretches are passed over a vector at a
    /// time, and where samples differ the same counter is never waited on for four at once: equal blocks only add to a repeat count.
    /// </summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private bool CountAll(ReadOnlySpan<ushort> bits)
    {
        ref int counts = ref MemoryMarshal.GetArrayDataReference(_counts);
        ref ushort at = ref MemoryMarshal.GetReference(bits);
        Vector256<ushort> exponent = Vector256.Create(Exponent),
            found = Vector256<ushort>.Zero;
        Vector256<short> greatest = Vector256.Create(short.MinValue);
        int i = 0;
        ulong last = bits.Length >= 4 ? Unsafe.ReadUnaligned<ulong>(ref Unsafe.As<ushort, byte>(ref at)) : 0;
        int repeat = 0;
        for (; i <= bits.Length - Vector256<ushort>.Count; i += Vector256<ushort>.Count)
        {
            var v = Vector256.LoadUnsafe(ref at, (nuint)i);
            found |= Vector256.Equals(v & exponent, exponent);
            greatest = Vector256.Max(greatest, v.AsInt16());
            if (v.AsUInt64() == Vector256.Create(last))
            {
                repeat += 4;
                continue;
            }

            ref byte block = ref Unsafe.As<ushort, byte>(ref Unsafe.Add(ref at, i));
            for (int k = 0; k < 4; k++)
            {
                ulong four = Unsafe.ReadUnaligned<ulong>(ref Unsafe.Add(ref block, 8 * k));
                if (four == last)
                {
                    repeat++;
                    continue;
                }

                Count(ref counts, last, repeat);
                (last, repeat) = (four, 1);
            }
        }

        Count(ref counts, last, repeat);
        bool any = found != Vector256<ushort>.Zero;
        short most = short.MinValue;
        for (int k = 0; k < Vector256<short>.Count; k++)
        {
            most = Math.Max(most, greatest[k]);
        }

        for (; i < bits.Length; i++)
        {
            most = Math.Max(most, (short)bits[i]);
            Unsafe.Add(ref counts, bits[i])++;
            any |= (bits[i] & Exponent) == Exponent;
        }

        _greatestOfLine = most;
        return any;
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static void Count(ref int counts, ulong block, int times)
    {
        Unsafe.Add(ref counts, (nint)(block & 0xffff)) += times;
        Unsafe.Add(ref counts, (nint)((block >> 16) & 0xffff)) += times;
        Unsafe.Add(ref counts, (nint)((block >> 32) & 0xffff)) += times;
        Unsafe.Add(ref counts, (nint)(block >> 48)) += times;
    }

    public override float BrightBound(long ofPixels) =>
        (float)Values[PercentileSketch.BoundFromTop(_counts, Exponent - 1, ofPixels / 1000)];

    public override (double Below, long AtLargest) BelowLargest() => TopTwo(_counts, Exponent - 1, b => Values[b]);

    protected override SampleStatistics Moments()
    {
        double min = double.PositiveInfinity,
            max = double.NegativeInfinity,
            sum = 0;
        long finite = 0,
            negative = 0,
            above = 0;
        int levels = 0;
        bool linear = true,
            srgb = true;
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
                negative += value < NegativeFrom ? count : 0;
                above += value > 1 ? count : 0;
                levels++;
                linear &= LevelGrid.LinearHalf[bits];
                srgb &= LevelGrid.SrgbHalf[bits];
            }
        }

        if (finite == 0)
        {
            return new SampleStatistics();
        }

        double mean = sum / finite,
            squares = 0;
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
            Negative = negative,
            Zero = _counts[0] + _counts[0x8000],
            One = _counts[0x3C00],
            AboveOne = above,
            Percentiles = PercentileSketch.Compute(Ascending(used), finite),
            Levels = levels,
            Grid =
                linear ? "linear"
                : srgb ? "srgb"
                : null,
        };
    }

    /// <summary>The patterns that occur, which are in ascending order of bits, in ascending order of value.</summary>
    private IEnumerable<(double Value, int Count)> Ascending(List<int> used)
    {
        int positive = used.FindIndex(bits => bits >= 0x8000) is >= 0 and int first ? first : used.Count;
        for (int i = used.Count - 1; i >= positive; i--)
        {
            yield return (Values[used[i]], _counts[used[i]]);
        }

        for (int i = 0; i < positive; i++)
        {
            yield return (Values[used[i]], _counts[used[i]]);
        }
    }
}
