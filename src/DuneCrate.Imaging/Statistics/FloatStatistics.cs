using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;

namespace DuneCrate.Imaging.Statistics;

/// <summary>Statistics of float samples: vectors of samples, sums in double around the first finite value.</summary>
internal sealed class FloatStatistics : ChannelStatistics
{
    private readonly bool[] _linearLevels = new bool[256],
        _srgbLevels = new bool[256];
    private readonly int[] _tops = new int[65536];
    private double _sum,
        _squares;
    private float _min,
        _max,
        _shift;
    private long _finite,
        _negative,
        _zero,
        _one,
        _above;
    private bool _linear,
        _srgb;

    public FloatStatistics() => Reset();

    public override void Reset()
    {
        base.Reset();
        (_sum, _squares, _finite, _min, _max, _shift, _linear, _srgb) = (
            0,
            0,
            0,
            float.PositiveInfinity,
            float.NegativeInfinity,
            0,
            true,
            true
        );
        (_negative, _zero, _one, _above) = (0, 0, 0, 0);
        Array.Clear(_linearLevels);
        Array.Clear(_srgbLevels);
        Array.Clear(_tops);
    }

    public override float BrightBound(long ofPixels) =>
        BitConverter.UInt32BitsToSingle((uint)PercentileSketch.BoundFromTop(_tops, 0x7F7F, ofPixels / 1000) << 16);

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    protected override void Add(ReadOnlySpan<byte> samples, int x, int y)
    {
        ReadOnlySpan<float> values = MemoryMarshal.Cast<byte, float>(samples);
        if (_finite == 0)
        {
            int first = values.IndexOfAnyInRange(float.MinValue, float.MaxValue);
            _shift = first < 0 ? 0 : values[first];
        }

        int i = 0;
        Vector256<int> exponent = Vector256.Create(0x7f800000);
        Vector256<float> min = Vector256.Create(_min),
            max = Vector256.Create(_max);
        Vector256<double> sum = Vector256<double>.Zero,
            squares = Vector256<double>.Zero,
            shift = Vector256.Create((double)_shift);
        for (; i <= values.Length - Vector256<float>.Count; i += Vector256<float>.Count)
        {
            var v = Vector256.Create(values[i..]);
            if (Vector256.EqualsAny(v.AsInt32() & exponent, exponent))
            {
                AddOneByOne(values.Slice(i, Vector256<float>.Count), x + i, y);
                continue;
            }

            (min, max) = (Vector256.Min(min, v), Vector256.Max(max, v));
            (Vector256<double> low, Vector256<double> high) = Vector256.Widen(v);
            (low, high) = (low - shift, high - shift);
            sum += low + high;
            squares += low * low + high * high;
            _finite += Vector256<float>.Count;
        }

        _sum += Vector256.Sum(sum);
        _squares += Vector256.Sum(squares);
        for (int k = 0; k < Vector256<float>.Count; k++)
        {
            (_min, _max) = (Math.Min(_min, min[k]), Math.Max(_max, max[k]));
        }

        AddOneByOne(values[i..], x + i, y);
        CountKinds(values);
    }

    /// <summary>
    /// Counts by sign, 0, 1 and above, and by the upper half of the bits; marks the levels met until one sample is off both grids. Equal
    /// neighbours are counted together.
    /// </summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void CountKinds(ReadOnlySpan<float> values)
    {
        ReadOnlySpan<int> bits = MemoryMarshal.Cast<float, int>(values);
        for (int i = 0; i < bits.Length; )
        {
            int first = i,
                sample = bits[i++];
            if (i < bits.Length && bits[i] == sample)
            {
                int other = bits[i..].IndexOfAnyExcept(sample);
                i = other < 0 ? bits.Length : i + other;
            }

            float value = BitConverter.Int32BitsToSingle(sample);
            int count = i - first;
            if (!float.IsFinite(value))
            {
                continue;
            }

            _tops[(uint)sample >> 16] += count;
            _negative += value < NegativeFrom ? count : 0;
            _zero += value == 0 ? count : 0;
            _one += value == 1 ? count : 0;
            _above += value > 1 ? count : 0;
            if (_linear || _srgb)
            {
                _linear = _linear && Mark(_linearLevels, LevelGrid.Linear(value));
                _srgb = _srgb && Mark(_srgbLevels, LevelGrid.Srgb(value));
            }
        }
    }

    private void AddOneByOne(ReadOnlySpan<float> values, int x, int y)
    {
        for (int i = 0; i < values.Length; i++)
        {
            float value = values[i];
            if (!float.IsFinite(value))
            {
                (NanCount, InfCount) = float.IsNaN(value) ? (NanCount + 1, InfCount) : (NanCount, InfCount + 1);
                NoteNonFinite(x + i, y);
                continue;
            }

            (_min, _max) = (Math.Min(_min, value), Math.Max(_max, value));
            double off = (double)value - _shift;
            _sum += off;
            _squares += off * off;
            _finite++;
        }
    }

    private static bool Mark(bool[] levels, int level)
    {
        if (level >= 0)
        {
            levels[level] = true;
        }

        return level >= 0;
    }

    public override (double Below, long AtLargest) BelowLargest() =>
        TopTwo(_tops, 0x7F7F, b => BitConverter.UInt32BitsToSingle(((uint)b << 16) | 0x8000));

    protected override SampleStatistics Moments()
    {
        if (_finite == 0)
        {
            return new SampleStatistics();
        }

        double mean = _sum / _finite;
        return new SampleStatistics
        {
            Min = _min,
            Max = _max,
            Mean = mean + _shift,
            StdDev = Math.Sqrt(Math.Max(0, _squares / _finite - mean * mean)),
            Negative = _negative,
            Zero = _zero,
            One = _one,
            AboveOne = _above,
            Percentiles = PercentileSketch.Compute(
                PercentileSketch
                    .AscendingPatterns(0x7F7F)
                    .Where(b => _tops[b] > 0)
                    .Select(b => (Math.Clamp(BitConverter.UInt32BitsToSingle((uint)b << 16), (double)_min, _max), _tops[b])),
                _finite
            ),
            Grid =
                _linear ? "linear"
                : _srgb ? "srgb"
                : null,
            Levels = (
                _linear ? _linearLevels
                : _srgb ? _srgbLevels
                : []
            ).Count(used => used),
        };
    }
}
