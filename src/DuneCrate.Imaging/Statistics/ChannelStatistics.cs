using System.IO.Hashing;
using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;

namespace DuneCrate.Imaging.Statistics;

/// <summary>
/// Gathers what is to be known of one channel, line by line, so that no picture is ever held. Instances are reused through
/// <see cref="Reset"/> and belong to one thread at a time.
/// </summary>
public abstract class ChannelStatistics
{
    /// <summary>Samples below this count as negative.</summary>
    protected const float NegativeFrom = -1e-4f;

    private readonly XxHash3 _hash = new();

    /// <summary>NaN samples.</summary>
    protected long NanCount { get; set; }

    /// <summary>Infinite samples.</summary>
    protected long InfCount { get; set; }

    private long _pixels;
    private PixelBox _nonFinite = new(0, 0, -1, -1);
    private (int X, int Y)? _firstNonFinite;
    private SampleStatistics? _result;

    /// <summary>An empty collector for a type.</summary>
    public static ChannelStatistics Create(ChannelType type) =>
        type switch
        {
            ChannelType.Half => new HalfStatistics(),
            ChannelType.Float => new FloatStatistics(),
            ChannelType.UInt8 or ChannelType.UInt16 => new IntegerStatistics(type),
            _ => new UIntStatistics(),
        };

    /// <summary>Forgets everything.</summary>
    public virtual void Reset()
    {
        _hash.Reset();
        _result = null;
        (NanCount, InfCount, _pixels, _nonFinite, _firstNonFinite) = (0, 0, 0, new PixelBox(0, 0, -1, -1), null);
    }

    /// <summary>Takes one line of samples, little-endian; <paramref name="x"/>, <paramref name="y"/> place its first sample.</summary>
    public void AddLine(ReadOnlySpan<byte> samples, int bytesPerSample, int x, int y)
    {
        _hash.Append(samples);
        _pixels += samples.Length / bytesPerSample;
        Add(samples, x, y);
    }

    /// <summary>Takes whole lines of samples, one after the other; <paramref name="x"/>, <paramref name="y"/> place the first.</summary>
    public void AddLines(ReadOnlySpan<byte> samples, int bytesPerSample, int width, int x, int y)
    {
        _hash.Append(samples);
        _pixels += samples.Length / bytesPerSample;
        int bytes = width * bytesPerSample;
        for (int row = 0; row * bytes < samples.Length; row++)
        {
            Add(samples.Slice(row * bytes, bytes), x, y + row);
            EndRow(row);
        }
    }

    /// <summary>A line of <see cref="AddLines"/> was added; <paramref name="row"/> from 0.</summary>
    protected virtual void EndRow(int row) { }

    /// <summary>Adds samples to the statistics proper.</summary>
    protected abstract void Add(ReadOnlySpan<byte> samples, int x, int y);

    /// <summary>Notes where a sample that is no number stands; top to bottom, left to right.</summary>
    protected void NoteNonFinite(int x, int y)
    {
        _firstNonFinite ??= (x, y);
        _nonFinite = _nonFinite.With(x, y);
    }

    /// <summary>The result; nothing is added after it was asked for.</summary>
    public SampleStatistics Finish() =>
        _result ??= Located(
            Moments() with
            {
                Nan = NanCount,
                Inf = InfCount,
                Pixels = _pixels,
                Hash = _hash.GetCurrentHashAsUInt64().ToString("x16", System.Globalization.CultureInfo.InvariantCulture),
            }
        );

    private SampleStatistics Located(SampleStatistics result) =>
        _firstNonFinite is { } first
            ? result with
            {
                FirstNonFinite = [first.X, first.Y],
                NonFiniteBox = [_nonFinite.MinX, _nonFinite.MinY, _nonFinite.MaxX, _nonFinite.MaxY],
            }
            : result;

    /// <summary>
    /// A value that the 99.9th percentile of the whole picture will not fall below, from what was seen so far; 0 when nothing can be said.
    /// </summary>
    /// <param name="ofPixels">Samples of the whole picture.</param>
    public virtual float BrightBound(long ofPixels) => 0;

    /// <summary>
    /// The greatest value below the greatest one (for float within 1/128 of itself) and the samples at the greatest; (0, 0) when nothing
    /// can be said.
    /// </summary>
    public virtual (double Below, long AtLargest) BelowLargest() => (0, 0);

    /// <summary>The two topmost values of counts by ascending pattern.</summary>
    protected static (double Below, long AtLargest) TopTwo(ReadOnlySpan<int> counts, int largest, Func<int, double> value)
    {
        int top = -1;
        for (int bits = largest; bits >= 0; bits--)
        {
            if (counts[bits] > 0)
            {
                if (top >= 0)
                {
                    return (value(bits), counts[top]);
                }

                top = bits;
            }
        }

        return top < 0 ? (0, 0) : (value(top), counts[top]);
    }

    /// <summary>Minimum to deviation, and the level test.</summary>
    protected abstract SampleStatistics Moments();
}
