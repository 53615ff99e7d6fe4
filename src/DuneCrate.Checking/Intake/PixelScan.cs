using System.Collections.Concurrent;
using System.Collections.Immutable;
using DuneCrate.Checking.Intake.Measures;
using DuneCrate.Checking.Rebuild;
using DuneCrate.Exr;
using DuneCrate.Exr.Codecs;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Checking.Intake;

/// <summary>
/// Takes the decoded planes of one picture, band by band from the top, and gathers the statistics of every channel, what the passes'
/// measures say and, when asked,
/// the rebuild: everything that rules want of pixels, in one pass. Holds one line as floats. Benchmark: bench/run pixels.
/// </summary>
internal sealed class PixelScan : IPlaneSink, IDisposable
{
    /// <summary>Spare statistics of a type: enough for every core to read a file of many channels; more would only hold memory.</summary>
    private const int MostSpare = 64;

    private static readonly ConcurrentDictionary<ChannelType, ConcurrentBag<ChannelStatistics>> Spare = new();

    private readonly ImmutableArray<ScanChannel> _channels;
    private readonly ChannelStatistics[] _statistics;
    private readonly (string Pass, PassMeasure Measure)[] _measures = [];
    private readonly RebuildScan? _rebuild;
    private readonly ScanLine? _line;
    private readonly int[] _offsets;
    private readonly int _width;
    private PixelBox _band;

    /// <summary>A scan of a picture.</summary>
    /// <param name="channels">Its channels, in file order.</param>
    /// <param name="window">The data window.</param>
    /// <param name="request">What is asked.</param>
    /// <param name="isWhole">Whether every channel has every pixel; of others only statistics are gathered.</param>
    public PixelScan(ImmutableArray<ScanChannel> channels, PixelBox window, FactsRequest request, bool isWhole = true)
    {
        _channels = channels;
        _statistics = [.. channels.Select(c => Take(c.Type))];
        _width = (int)window.Width;
        _offsets = ScanLine.Offsets(channels, _width);
        if (!isWhole)
        {
            return;
        }

        _measures = [.. MeasuresOf(channels, request.Catalogue, _width, (int)window.Height)];
        _rebuild = RebuildScan.Create(request.Rebuild, channels, _width);
        int[] needed = [.. _measures.SelectMany(m => m.Measure.Needs).Concat(_rebuild?.Needs ?? []).Distinct()];
        _line = needed.Length > 0 ? new ScanLine(channels, window, needed) : null;
    }

    /// <summary>Says where the planes stand that come next.</summary>
    public PixelScan At(PixelBox band)
    {
        _band = band;
        return this;
    }

    /// <inheritdoc/>
    public void Take(int channel, ReadOnlySpan<byte> plane) =>
        _statistics[channel].AddLines(plane, _channels[channel].Type.Bytes(), _width, _band.MinX, _band.MinY);

    /// <summary>Takes a band whose planes were all taken one by one: channel after channel, each with all its lines.</summary>
    public void AddBand(ReadOnlySpan<byte> planes)
    {
        var band = new ScanBand(planes, _band, _offsets);
        foreach ((_, PassMeasure measure) in _measures)
        {
            measure.AddBand(band, _statistics);
        }

        if (_rebuild is { IsOfHalves: true })
        {
            _rebuild.AddBand(band);
        }

        if (_line is null)
        {
            return;
        }

        for (int row = 0; row < band.Height; row++)
        {
            _line.Set(band, row);
            if (_rebuild is { IsOfHalves: false })
            {
                _rebuild.AddLine(_line);
            }

            foreach ((_, PassMeasure measure) in _measures)
            {
                measure.AddLine(_line);
            }
        }
    }

    /// <summary>Takes one line, in which the channels stand one after the other.</summary>
    public void AddLine(ReadOnlySpan<byte> line, int x, int y)
    {
        At(new PixelBox(x, y, x + _width - 1, y));
        for (int c = 0; c < _channels.Length; c++)
        {
            Take(c, line.Slice(_offsets[c], _channels[c].Type.Bytes() * _width));
        }

        AddBand(line);
    }

    /// <summary>Takes some samples of one channel, for pictures whose channels differ in size.</summary>
    public void AddSamples(int channel, ReadOnlySpan<byte> samples, int x, int y) =>
        _statistics[channel].AddLine(samples, _channels[channel].Type.Bytes(), x, y);

    /// <summary>The rebuild, or null when it was not measured.</summary>
    public RebuildFacts? Rebuild => _rebuild?.Finish(_statistics);

    /// <summary>A part's facts with everything found.</summary>
    public PartFacts Finish(PartFacts part) =>
        part with
        {
            Channels = [.. part.Channels.Select((c, i) => c with { Samples = _statistics[i].Finish() })],
            Passes =
            [
                .. _measures
                    .GroupBy(m => m.Pass)
                    .Select(p => p.Aggregate(new PassFacts { Pass = p.Key }, (facts, m) => m.Measure.Finish(facts, _statistics))),
            ],
        };

    private static IEnumerable<(string, PassMeasure)> MeasuresOf(
        ImmutableArray<ScanChannel> channels,
        PassCatalogue catalogue,
        int width,
        int height
    )
    {
        foreach (
            var pass in channels
                .Select((c, i) => (Channel: c, Index: i))
                .Where(c => c.Channel.Pass is not null)
                .GroupBy(c => c.Channel.Pass!)
        )
        {
            if (catalogue.Find(pass.Key) is { } definition)
            {
                var own = pass.DistinctBy(c => definition.Has(PassMeasures.Cryptomatte) ? c.Channel.Name : c.Channel.Last)
                    .ToDictionary(c => definition.Has(PassMeasures.Cryptomatte) ? c.Channel.Name : c.Channel.Last, c => c.Index);
                foreach (PassMeasure measure in PassMeasure.Create(definition, own, channels, catalogue, width, height))
                {
                    yield return (pass.Key, measure);
                }
            }
        }
    }

    private static ChannelStatistics Take(ChannelType type)
    {
        if (!Spare.GetOrAdd(type, _ => []).TryTake(out ChannelStatistics? statistics))
        {
            return ChannelStatistics.Create(type);
        }

        statistics.Reset();
        return statistics;
    }

    public void Dispose()
    {
        for (int c = 0; c < _channels.Length; c++)
        {
            ConcurrentBag<ChannelStatistics> bag = Spare.GetOrAdd(_channels[c].Type, _ => []);
            if (bag.Count < MostSpare)
            {
                bag.Add(_statistics[c]);
            }
        }
    }
}
