using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;
using DuneCrate.Exr;
using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Checking.Intake.Measures;

/// <summary>
/// Lone bright pixels of half channels, sixteen pixels at once on the samples as they are stored: positive halves are in the order of their
/// bits, and an eighth is three
/// steps of the exponent. What passes is looked at as floats.
/// Benchmark: bench/run pixels.
/// </summary>
internal sealed class HalfFireflies(int[] colour, int width, long pixels) : FireflyMeasure(colour)
{
    private const short Eighth = 3 << 10;

    /// <summary>So many vectors above the bound are worth a look for a higher one.</summary>
    private const int Patience = 500;

    private readonly ushort[][] _held = [.. Enumerable.Range(0, 2 * colour.Distinct().Count()).Select(_ => new ushort[width])];
    private readonly short[] _bounds = new short[colour.Distinct().Count()];
    private readonly int[] _tested = [.. colour.Distinct().Select(_ => Patience)];
    private readonly short[] _greatest = new short[colour.Distinct().Count()];
    private int _lines;
    private long _nextY;

    public override IEnumerable<int> Needs => [];

    public override void AddBand(in ScanBand band, ChannelStatistics[] statistics)
    {
        // After lines that are lost a picture begins anew.
        _lines = _nextY == band.Box.MinY ? Math.Min(_lines, 2) : 0;
        for (int c = 0; c < Channels.Length; c++)
        {
            if (_tested[c] >= Patience)
            {
                _bounds[c] = (short)BitConverter.HalfToUInt16Bits((Half)statistics[Channels[c]].BrightBound(pixels));
                _tested[c] = 0;
            }

            var counted = (HalfStatistics)statistics[Channels[c]];
            for (int row = 2 - _lines; row < band.Height; row++)
            {
                // A line that has nothing above the bound has no lone bright pixel: most of them.
                if ((row == 0 ? _greatest[c] : counted.GreatestOf(row - 1)) <= _bounds[c])
                {
                    continue;
                }

                _tested[c] += Test(
                    c,
                    Line(band, c, row - 2),
                    Line(band, c, row - 1),
                    Line(band, c, row),
                    band.Box.MinX,
                    band.Box.MinY + row - 1
                );
            }

            Hold(band, c);
            _greatest[c] = counted.GreatestOf(band.Height - 1);
        }

        (_lines, _nextY) = (_lines + band.Height, (long)band.Box.MaxY + 1);
    }

    /// <summary>A line of the band, or with a number below 0 one of the two before it.</summary>
    private ReadOnlySpan<ushort> Line(in ScanBand band, int c, int row) => row < 0 ? _held[2 * c + row + 2] : band.Halves(Channels[c], row);

    private void Hold(in ScanBand band, int c)
    {
        if (band.Height == 1)
        {
            (_held[2 * c], _held[2 * c + 1]) = (_held[2 * c + 1], _held[2 * c]);
        }
        else
        {
            band.Halves(Channels[c], band.Height - 2).CopyTo(_held[2 * c]);
        }

        band.Halves(Channels[c], band.Height - 1).CopyTo(_held[2 * c + 1]);
    }

    /// <summary>
    /// Looks through a line with the ones above and below it; returns how many vectors held something above the bound. When a pixel exceeds
    /// 8 × the mean of its fourth and
    /// fifth neighbour in order of size, at least four neighbours lie below an eighth of it. Below the smallest normal halves an eighth is
    /// taken too large, which only lets more pass.
    /// </summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private int Test(int c, ReadOnlySpan<ushort> above, ReadOnlySpan<ushort> middle, ReadOnlySpan<ushort> below, int minX, int y)
    {
        ref short a = ref Unsafe.As<ushort, short>(ref MemoryMarshal.GetReference(above));
        ref short m = ref Unsafe.As<ushort, short>(ref MemoryMarshal.GetReference(middle));
        ref short b = ref Unsafe.As<ushort, short>(ref MemoryMarshal.GetReference(below));
        Vector256<short> bound = Vector256.Create(_bounds[c]);
        int x = 1,
            tested = 0;
        for (; x < width - Vector256<short>.Count; x += Vector256<short>.Count)
        {
            var value = Vector256.LoadUnsafe(ref m, (nuint)x);
            Vector256<short> isBright = Vector256.GreaterThan(value, bound);
            if (isBright == Vector256<short>.Zero)
            {
                continue;
            }

            tested++;
            Vector256<short> low = Vector256.Max(value - Vector256.Create(Eighth), value >> 1);
            Vector256<short> count =
                Vector256.LessThan(Vector256.LoadUnsafe(ref a, (nuint)x - 1), low)
                + Vector256.LessThan(Vector256.LoadUnsafe(ref a, (nuint)x), low)
                + Vector256.LessThan(Vector256.LoadUnsafe(ref a, (nuint)x + 1), low)
                + Vector256.LessThan(Vector256.LoadUnsafe(ref m, (nuint)x - 1), low)
                + Vector256.LessThan(Vector256.LoadUnsafe(ref m, (nuint)x + 1), low)
                + Vector256.LessThan(Vector256.LoadUnsafe(ref b, (nuint)x - 1), low)
                + Vector256.LessThan(Vector256.LoadUnsafe(ref b, (nuint)x), low)
                + Vector256.LessThan(Vector256.LoadUnsafe(ref b, (nuint)x + 1), low);
            uint lanes = (Vector256.LessThanOrEqual(count, Vector256.Create((short)-4)) & isBright).ExtractMostSignificantBits();
            for (; lanes != 0; lanes &= lanes - 1)
            {
                TestOne(c, above, middle, below, x + BitOperations.TrailingZeroCount(lanes), minX, y);
            }
        }

        for (; x < width - 1; x++)
        {
            if ((short)middle[x] > _bounds[c])
            {
                TestOne(c, above, middle, below, x, minX, y);
            }
        }

        return tested;
    }

    private void TestOne(
        int c,
        ReadOnlySpan<ushort> above,
        ReadOnlySpan<ushort> middle,
        ReadOnlySpan<ushort> below,
        int x,
        int minX,
        int y
    ) =>
        Judge(
            c,
            HalfLine.One(middle[x]),
            [
                HalfLine.One(above[x - 1]),
                HalfLine.One(above[x]),
                HalfLine.One(above[x + 1]),
                HalfLine.One(middle[x - 1]),
                HalfLine.One(middle[x + 1]),
                HalfLine.One(below[x - 1]),
                HalfLine.One(below[x]),
                HalfLine.One(below[x + 1]),
            ],
            minX + x,
            y
        );
}
