using System.Runtime.InteropServices;
using DuneCrate.Foundation.Passes;

namespace DuneCrate.Imaging.Statistics;

/// <summary>Statistics of 8- and 16-bit samples by counting every value; 0..255 and 0..65535 stand for 0..1.</summary>
internal sealed class IntegerStatistics(ChannelType type) : ChannelStatistics
{
    private readonly int[] _counts = new int[type == ChannelType.UInt8 ? 256 : 65536];

    private double Scale => _counts.Length - 1;

    public override void Reset()
    {
        base.Reset();
        Array.Clear(_counts);
    }

    public override float BrightBound(long ofPixels) =>
        (float)(PercentileSketch.BoundFromTop(_counts, _counts.Length - 1, ofPixels / 1000) / Scale);

    protected override void Add(ReadOnlySpan<byte> samples, int x, int y)
    {
        if (type == ChannelType.UInt8)
        {
            foreach (byte sample in samples)
            {
                _counts[sample]++;
            }
        }
        else
        {
            foreach (ushort sample in MemoryMarshal.Cast<byte, ushort>(samples))
            {
                _counts[sample]++;
            }
        }
    }

    public override (double Below, long AtLargest) BelowLargest() => TopTwo(_counts, _counts.Length - 1, b => b / Scale);

    protected override SampleStatistics Moments()
    {
        int[] used = [.. Enumerable.Range(0, _counts.Length).Where(v => _counts[v] > 0)];
        long pixels = used.Sum(v => (long)_counts[v]);
        if (pixels == 0)
        {
            return new SampleStatistics();
        }

        double mean = used.Sum(v => v / Scale * _counts[v]) / pixels;
        return new SampleStatistics
        {
            Min = used[0] / Scale,
            Max = used[^1] / Scale,
            Mean = mean,
            StdDev = Math.Sqrt(used.Sum(v => (v / Scale - mean) * (v / Scale - mean) * _counts[v]) / pixels),
            Zero = _counts[0],
            One = _counts[^1],
            Percentiles = PercentileSketch.Compute(used.Select(v => (v / Scale, _counts[v])), pixels),
            Levels = used.Length,
            Grid = type == ChannelType.UInt8 || used.All(v => v % 257 == 0) ? "linear" : null,
        };
    }
}
