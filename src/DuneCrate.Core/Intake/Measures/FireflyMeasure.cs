using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;
using DuneCrate.Core.Images.Statistics;

namespace DuneCrate.Core.Intake.Measures;

/// <summary>
/// Counts lone bright pixels: in some colour above 8 × the median of the eight neighbours and above the frame's 99.9th percentile. The percentile is known only
/// when the frame has gone by, so pixels are held against a bound that it cannot fall below, and the few that pass are held against it in the end.
/// </summary>
internal sealed class FireflyMeasure(int[] colour, int width, long pixels) : PassMeasure
{
    private const float TimesMedian = 8;

    private readonly float[][][] _held = [.. colour.Distinct().Select(_ => new[] { new float[width], new float[width], new float[width] })];
    private readonly int[] _channels = [.. colour.Distinct()];
    private readonly float[] _bounds = new float[colour.Distinct().Count()];
    private readonly List<(int X, int Y, int Colour, float Value)> _candidates = [];
    private int _lines, _lastRow = -2;

    public override IEnumerable<int> Needs => _channels;

    public override void BeforeBand(ChannelStatistics[] statistics)
    {
        // The bound only grows; asking as often as the lines double is enough.
        if (System.Numerics.BitOperations.IsPow2(_lines / 16) || _lines == 0)
        {
            for (int c = 0; c < _channels.Length; c++)
            {
                _bounds[c] = Math.Max(_bounds[c], statistics[_channels[c]].BrightBound(pixels));
            }
        }
    }

    public override void AddLine(ScanLine line)
    {
        if (line.Row != _lastRow + 1)
        {
            _lines = 0;
        }

        for (int c = 0; c < _channels.Length; c++)
        {
            float[][] held = _held[c];
            line[_channels[c]].CopyTo(held[_lines % 3], 0);
            if (_lines >= 2)
            {
                Test(c, held[(_lines - 2) % 3], held[(_lines - 1) % 3], held[_lines % 3], line.Window.MinX, line.Y - 1);
            }
        }

        (_lastRow, _lines) = (line.Row, _lines + 1);
    }

    /// <summary>
    /// Looks through a line with the ones above and below it. When a pixel exceeds 8 × the mean of its fourth and fifth neighbour in order of size, at least four
    /// neighbours lie below an eighth of it: that is asked of eight pixels at once, and only of those that exceed the bound.
    /// </summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void Test(int c, float[] above, float[] middle, float[] below, int minX, int y)
    {
        Vector256<float> bound = Vector256.Create(_bounds[c]), share = Vector256.Create(1 / TimesMedian);
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
            Vector256<int> count = Vector256.LessThan(Vector256.LoadUnsafe(ref a, (nuint)x - 1), low).AsInt32()
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

    private void TestOne(int c, float[] above, float[] middle, float[] below, int x, int minX, int y)
    {
        Span<float> around = [above[x - 1], above[x], above[x + 1], middle[x - 1], middle[x + 1], below[x - 1], below[x], below[x + 1]];
        around.Sort();
        if (float.IsFinite(middle[x]) && middle[x] > TimesMedian * (around[3] + around[4]) / 2)
        {
            _candidates.Add((minX + x, y, c, middle[x]));
        }
    }

    public override PassFacts Finish(PassFacts facts, ChannelStatistics[] statistics)
    {
        double[] limits = [.. _channels.Select(c => statistics[c].Finish().Percentiles is { IsEmpty: false } p ? p[^1] : 0)];
        var lone = _candidates.Where(c => c.Value > limits[c.Colour]).ToArray();
        if (lone.Length == 0)
        {
            return facts with { Fireflies = new FireflyFacts(0, 0, null) };
        }

        (int x, int y, _, float worst) = lone.MaxBy(c => c.Value);
        return facts with { Fireflies = new FireflyFacts(lone.Select(c => (c.X, c.Y)).Distinct().Count(), worst, [x, y]) };
    }
}
