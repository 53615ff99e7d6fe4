using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;
using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Checking.Intake.Measures;

/// <summary>Lone bright pixels of channels that are not all half, eight pixels at once.</summary>
internal sealed class FloatFireflies(int[] colour, int width, long pixels) : FireflyMeasure(colour)
{
    private readonly float[][][] _held = [.. colour.Distinct().Select(_ => new[] { new float[width], new float[width], new float[width] })];
    private readonly float[] _bounds = new float[colour.Distinct().Count()];
    private int _lines,
        _lastRow = -2;

    public override IEnumerable<int> Needs => Channels;

    public override void AddBand(in ScanBand band, ChannelStatistics[] statistics)
    {
        for (int c = 0; c < Channels.Length; c++)
        {
            _bounds[c] = Math.Max(_bounds[c], statistics[Channels[c]].BrightBound(pixels));
        }
    }

    public override void AddLine(ScanLine line)
    {
        if (line.Row != _lastRow + 1)
        {
            _lines = 0;
        }

        for (int c = 0; c < Channels.Length; c++)
        {
            float[][] held = _held[c];
            line[Channels[c]].CopyTo(held[_lines % 3], 0);
            if (_lines >= 2)
            {
                Test(c, held[(_lines - 2) % 3], held[(_lines - 1) % 3], held[_lines % 3], line.Window.MinX, line.Y - 1);
            }
        }

        (_lastRow, _lines) = (line.Row, _lines + 1);
    }

    /// <summary>
    /// Looks through a line with the ones above and below it. When a pixel exceeds 8 × the mean of its fourth and fifth neighbour in order
    /// of size, at least four
    /// neighbours lie below an eighth of it: that is asked of eight pixels at once, and only of those that exceed the bound.
    /// </summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void Test(int c, float[] above, float[] middle, float[] below, int minX, int y)
    {
        Vector256<float> bound = Vector256.Create(_bounds[c]),
            share = Vector256.Create(1 / TimesMedian);
        ref float a = ref MemoryMarshal.GetArrayDataReference(above);
        ref float m = ref MemoryMarshal.GetArrayDataReference(middle);
        ref float b = ref MemoryMarshal.GetArrayDataReference(below);
        int x = 1;
        for (; x < width - Vector256<float>.Count; x += Vector256<float>.Count)
        {
            var value = Vector256.LoadUnsafe(ref m, (nuint)x);
            Vector256<int> isBright = Vector256.GreaterThan(value, bound).AsInt32();
            if (isBright == Vector256<int>.Zero)
            {
                continue;
            }

            Vector256<float> low = value * share;
            Vector256<int> count =
                Vector256.LessThan(Vector256.LoadUnsafe(ref a, (nuint)x - 1), low).AsInt32()
                + Vector256.LessThan(Vector256.LoadUnsafe(ref a, (nuint)x), low).AsInt32()
                + Vector256.LessThan(Vector256.LoadUnsafe(ref a, (nuint)x + 1), low).AsInt32()
                + Vector256.LessThan(Vector256.LoadUnsafe(ref m, (nuint)x - 1), low).AsInt32()
                + Vector256.LessThan(Vector256.LoadUnsafe(ref m, (nuint)x + 1), low).AsInt32()
                + Vector256.LessThan(Vector256.LoadUnsafe(ref b, (nuint)x - 1), low).AsInt32()
                + Vector256.LessThan(Vector256.LoadUnsafe(ref b, (nuint)x), low).AsInt32()
                + Vector256.LessThan(Vector256.LoadUnsafe(ref b, (nuint)x + 1), low).AsInt32();
            uint lanes = (Vector256.LessThanOrEqual(count, Vector256.Create(-4)) & isBright).ExtractMostSignificantBits();
            for (; lanes != 0; lanes &= lanes - 1)
            {
                TestOne(c, above, middle, below, x + System.Numerics.BitOperations.TrailingZeroCount(lanes), minX, y);
            }
        }

        for (; x < width - 1; x++)
        {
            if (middle[x] > _bounds[c])
            {
                TestOne(c, above, middle, below, x, minX, y);
            }
        }
    }

    private void TestOne(int c, float[] above, float[] middle, float[] below, int x, int minX, int y) =>
        Judge(
            c,
            middle[x],
            [above[x - 1], above[x], above[x + 1], middle[x - 1], middle[x + 1], below[x - 1], below[x], below[x + 1]],
            minX + x,
            y
        );
}
