using System.Buffers;
using System.Collections.Concurrent;
using System.Collections.Immutable;
using DuneCrate.Core.Images;
using DuneCrate.Core.Images.Exr;
using DuneCrate.Core.Images.Statistics;
using DuneCrate.Core.Passes;
using DuneCrate.Core.Stacking;

namespace DuneCrate.Core.Intake;

/// <summary>
/// Goes once through the chunks of a part and gathers the statistics of every channel and, when asked, the rebuild. Holds one
/// band of lines at a time. Benchmark: bench/pixel-check.
/// </summary>
internal sealed class PixelScan : IDisposable
{
    private static readonly ConcurrentDictionary<ChannelType, ConcurrentBag<ChannelStatistics>> Spare = new();

    private readonly ExrFile _file;
    private readonly ExrPart _part;
    private readonly ChannelStatistics[] _channels;
    private readonly RebuildLines? _rebuild;

    public PixelScan(ExrFile file, ExrPart part, RebuildRecipe? recipe)
    {
        (_file, _part) = (file, part);
        _channels = [.. part.Channels.Select(c => Take(c.Type))];
        _rebuild = recipe is null || part.IsSubsampled ? null : RebuildLines.For(recipe, part);
    }

    public RebuildFacts? Rebuild { get; private set; }

    /// <summary>Reads everything; adds the lines that are lost and returns the first reason, or null.</summary>
    public string? Run(List<(int First, int Last)> lost, CancellationToken cancel)
    {
        string? reason = null;
        byte[] buffer = ArrayPool<byte>.Shared.Rent(_file.LargestBand(_part));
        try
        {
            for (int band = 0; band < _part.Chunks.BandCount; band++)
            {
                cancel.ThrowIfCancellationRequested();
                var shape = new ExrChunkShape(_part, _part.Chunks.BandBox(band));
                ReadOnlySpan<byte> lines;
                try
                {
                    lines = _file.ReadBand(_part, band, buffer);
                }
                catch (ImageException e) when (e.Problem == ImageProblem.Truncated)
                {
                    reason ??= e.Reason;
                    lost.Add((shape.Box.MinY, shape.Box.MaxY));
                    continue;
                }

                if (_part.IsSubsampled)
                {
                    AddLines(lines, shape);
                }
                else
                {
                    AddChannels(lines, shape);
                }
            }
        }
        finally
        {
            ArrayPool<byte>.Shared.Return(buffer);
        }

        Rebuild = _rebuild?.Measure.Finish();
        return reason;
    }

    /// <summary>Channel by channel, so that each histogram stays in the cache for all lines of the band.</summary>
    private void AddChannels(ReadOnlySpan<byte> lines, in ExrChunkShape shape)
    {
        int width = (int)shape.Box.Width, bytesPerLine = (int)_part.BytesPerLine;
        for (int c = 0; c < _channels.Length; c++)
        {
            int bytes = _part.Channels[c].Type.Bytes(), at = _part.PixelOffsets[c] * width;
            for (int y = 0; y < shape.Lines; y++)
            {
                _channels[c].AddLine(lines.Slice(y * bytesPerLine + at, bytes * width), bytes, shape.Box.MinX, shape.Box.MinY + y);
            }
        }

        for (int y = 0; _rebuild is not null && y < shape.Lines; y++)
        {
            _rebuild.Add(lines.Slice(y * bytesPerLine, bytesPerLine), shape.Box.MinY + y);
        }
    }

    /// <summary>Lines whose channels have different numbers of samples; nothing is summed over such parts.</summary>
    private void AddLines(ReadOnlySpan<byte> lines, in ExrChunkShape shape)
    {
        for (int y = shape.Box.MinY; y <= shape.Box.MaxY; y++)
        {
            for (int c = 0; c < _channels.Length; c++)
            {
                if (shape.Has(c, y))
                {
                    int bytes = shape.LineBytes(c);
                    _channels[c].AddLine(lines[..bytes], _part.Channels[c].Type.Bytes(), shape.Box.MinX, y);
                    lines = lines[bytes..];
                }
            }
        }
    }

    public ImmutableArray<ChannelFacts> Results(ImmutableArray<ChannelFacts> headers) =>
        [.. headers.Select((c, i) => c with { Samples = _channels[i].Finish() })];

    private static ChannelStatistics Take(ChannelType type)
    {
        if (!Spare.GetOrAdd(type, _ => []).TryTake(out ChannelStatistics? statistics))
        {
            return ChannelStatistics.For(type);
        }

        statistics.Reset();
        return statistics;
    }

    public void Dispose()
    {
        for (int c = 0; c < _channels.Length; c++)
        {
            ConcurrentBag<ChannelStatistics> bag = Spare.GetOrAdd(_part.Channels[c].Type, _ => []);
            if (bag.Count < 256)
            {
                bag.Add(_channels[c]);
            }
        }
    }

    /// <summary>Picks the rebuild's channels out of stored lines.</summary>
    private sealed class RebuildLines(ExrPart part, RebuildRecipe recipe)
    {
        private readonly int _width = (int)part.DataWindow.Width;
        private readonly float[][] _beauty = Lines((int)part.DataWindow.Width);
        private readonly float[][][] _terms = [.. recipe.Terms.Select(_ => Lines((int)part.DataWindow.Width))];
        private readonly float[] _factor = new float[part.DataWindow.Width];
        private readonly Dictionary<string, int> _index = part.Channels.Select((c, i) => (c.Name, i)).ToDictionary(c => c.Name, c => c.i);

        public RebuildMeasure Measure { get; } = new(recipe, (int)part.DataWindow.Width);

        /// <summary>The reader for a part, or null when the part lacks one of the channels.</summary>
        public static RebuildLines? For(RebuildRecipe recipe, ExrPart part)
        {
            var names = part.Channels.Select(c => c.Name).ToHashSet();
            return recipe.Channels.All(names.Contains) ? new RebuildLines(part, recipe) : null;
        }

        public void Add(ReadOnlySpan<byte> line, int y)
        {
            for (int colour = 0; colour < 3; colour++)
            {
                Read(line, recipe.Beauty[colour], _beauty[colour]);
                for (int t = 0; t < _terms.Length; t++)
                {
                    ImmutableArray<ImmutableArray<string>> factors = recipe.Terms[t].Factors;
                    Read(line, factors[0][colour], _terms[t][colour]);
                    for (int f = 1; f < factors.Length; f++)
                    {
                        Read(line, factors[f][colour], _factor);
                        System.Numerics.Tensors.TensorPrimitives.Multiply(_terms[t][colour], _factor, _terms[t][colour]);
                    }
                }
            }

            Measure.AddLine(_beauty, _terms, part.DataWindow.MinX, y);
        }

        private void Read(ReadOnlySpan<byte> line, string channel, float[] to)
        {
            int c = _index[channel];
            ChannelType type = part.Channels[c].Type;
            ExrImage.ToFloats(line.Slice(part.PixelOffsets[c] * _width, type.Bytes() * _width), type, to);
        }

        private static float[][] Lines(int width) => [new float[width], new float[width], new float[width]];
    }
}
