using System.Runtime.InteropServices;

namespace DuneCrate.Core.Images.Statistics;

/// <summary>Statistics of 32-bit whole numbers.</summary>
internal sealed class UIntStatistics : ChannelStatistics
{
    private double _sum, _squares;
    private uint _min = uint.MaxValue, _max;
    private long _count;

    public override void Reset()
    {
        base.Reset();
        (_sum, _squares, _min, _max, _count) = (0, 0, uint.MaxValue, 0, 0);
    }

    protected override void Add(ReadOnlySpan<byte> samples, int x, int y)
    {
        ReadOnlySpan<uint> values = MemoryMarshal.Cast<byte, uint>(samples);
        foreach (uint value in values)
        {
            (_min, _max) = (Math.Min(_min, value), Math.Max(_max, value));
            _sum += value;
            _squares += (double)value * value;
        }

        _count += values.Length;
    }

    protected override SampleStatistics Moments()
    {
        if (_count == 0)
        {
            return new SampleStatistics();
        }

        double mean = _sum / _count;
        return new SampleStatistics { Min = _min, Max = _max, Mean = mean, StdDev = Math.Sqrt(Math.Max(0, _squares / _count - mean * mean)) };
    }
}
