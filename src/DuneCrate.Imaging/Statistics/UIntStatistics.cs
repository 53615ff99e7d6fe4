using System.Runtime.InteropServices;

namespace DuneCrate.Imaging.Statistics;

/// <summary>Statistics of 32-bit whole numbers: sums in double around the first value.</summary>
internal sealed class UIntStatistics : ChannelStatistics
{
    private double _sum,
        _squares;
    private uint _min = uint.MaxValue,
        _max,
        _shift;
    private long _count,
        _zero,
        _one;

    public override void Reset()
    {
        base.Reset();
        (_sum, _squares, _min, _max, _count, _zero, _one) = (0, 0, uint.MaxValue, 0, 0, 0, 0);
    }

    protected override void Add(ReadOnlySpan<byte> samples, int x, int y)
    {
        ReadOnlySpan<uint> values = MemoryMarshal.Cast<byte, uint>(samples);
        if (_count == 0 && !values.IsEmpty)
        {
            _shift = values[0];
        }

        foreach (uint value in values)
        {
            (_min, _max) = (Math.Min(_min, value), Math.Max(_max, value));
            double off = (double)value - _shift;
            _sum += off;
            _squares += off * off;
        }

        _zero += values.Count(0u);
        _one += values.Count(1u);

        _count += values.Length;
    }

    protected override SampleStatistics Moments()
    {
        if (_count == 0)
        {
            return new SampleStatistics();
        }

        double mean = _sum / _count;
        return new SampleStatistics
        {
            Min = _min,
            Max = _max,
            Mean = mean + _shift,
            StdDev = Math.Sqrt(Math.Max(0, _squares / _count - mean * mean)),
            Zero = _zero,
            One = _one,
            AboveOne = _count - _zero - _one,
        };
    }
}
