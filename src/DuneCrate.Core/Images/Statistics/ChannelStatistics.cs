using System.IO.Hashing;
using DuneCrate.Core.Passes;

namespace DuneCrate.Core.Images.Statistics;

/// <summary>
/// Gathers what is to be known of one channel, line by line, so that no picture is ever held. Instances are reused through
/// <see cref="Reset"/> and belong to one thread at a time.
/// </summary>
internal abstract class ChannelStatistics
{
    private readonly XxHash3 _hash = new();

    /// <summary>NaN samples.</summary>
    protected long NanCount { get; set; }

    /// <summary>Infinite samples.</summary>
    protected long InfCount { get; set; }

    private long _pixels;
    private PixelBox _nonFinite = new(0, 0, -1, -1);
    private (int X, int Y)? _firstNonFinite;

    /// <summary>An empty collector for a type.</summary>
    public static ChannelStatistics For(ChannelType type) => type switch
    {
        ChannelType.Half => new HalfStatistics(),
        ChannelType.Float => new FloatStatistics(),
        _ => new UIntStatistics(),
    };

    /// <summary>Forgets everything.</summary>
    public virtual void Reset()
    {
        _hash.Reset();
        (NanCount, InfCount, _pixels, _nonFinite, _firstNonFinite) = (0, 0, 0, new PixelBox(0, 0, -1, -1), null);
    }

    /// <summary>Takes one line of samples, little-endian; <paramref name="x"/>, <paramref name="y"/> place its first sample.</summary>
    public void AddLine(ReadOnlySpan<byte> samples, int bytesPerSample, int x, int y)
    {
        _hash.Append(samples);
        _pixels += samples.Length / bytesPerSample;
        Add(samples, x, y);
    }

    /// <summary>Adds samples to the statistics proper.</summary>
    protected abstract void Add(ReadOnlySpan<byte> samples, int x, int y);

    /// <summary>Notes where a sample that is no number stands; top to bottom, left to right.</summary>
    protected void NoteNonFinite(int x, int y)
    {
        _firstNonFinite ??= (x, y);
        _nonFinite = _nonFinite.With(x, y);
    }

    /// <summary>The result so far.</summary>
    public SampleStatistics Finish()
    {
        SampleStatistics result = Moments() with { Nan = NanCount, Inf = InfCount, Pixels = _pixels, Hash = _hash.GetCurrentHashAsUInt64().ToString("x16", System.Globalization.CultureInfo.InvariantCulture) };
        return _firstNonFinite is { } first
            ? result with { FirstNonFinite = [first.X, first.Y], NonFiniteBox = [_nonFinite.MinX, _nonFinite.MinY, _nonFinite.MaxX, _nonFinite.MaxY] }
            : result;
    }

    /// <summary>Minimum to deviation, and the level test.</summary>
    protected abstract SampleStatistics Moments();
}
