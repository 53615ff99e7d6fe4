namespace DuneCrate.Checking.Comparing;

/// <summary>Adds up the differences of one channel line by line. NaN equals NaN, and an infinity itself. One thread at a time.</summary>
/// <param name="name">Name of the channel.</param>
/// <param name="tolerance">What counts as equal.</param>
internal sealed class ChannelMeter(string name, double tolerance)
{
    private long _samples,
        _off,
        _odd;
    private double _sum,
        _squares,
        _max;
    private (int X, int Y)? _worst,
        _firstOdd;

    public bool IsEqual => _off == 0;

    public void Add(ReadOnlySpan<float> a, ReadOnlySpan<float> b, int left, int y)
    {
        _samples += a.Length;
        if (a.SequenceEqual(b))
        {
            return;
        }

        for (int x = 0; x < a.Length; x++)
        {
            if (a[x].Equals(b[x]) || a[x] == b[x])
            {
                continue;
            }

            double off = Math.Abs((double)a[x] - b[x]);
            if (!double.IsFinite(off))
            {
                _odd++;
                _off++;
                _firstOdd ??= (left + x, y);
                continue;
            }

            _sum += off;
            _squares += off * off;
            _off += off > tolerance ? 1 : 0;
            if (off > _max)
            {
                (_max, _worst) = (off, (left + x, y));
            }
        }
    }

    public ChannelDifference Finish()
    {
        double rms = _samples == 0 ? 0 : Math.Sqrt(_squares / _samples);
        return new ChannelDifference(
            name,
            _max,
            _samples == 0 ? 0 : _sum / _samples,
            rms,
            rms > 0 ? -20 * Math.Log10(rms) : null,
            _samples == 0 ? 0 : (double)_off / _samples,
            (_firstOdd ?? _worst) is var (x, y) ? [x, y] : null
        )
        {
            Odd = _odd,
        };
    }
}
