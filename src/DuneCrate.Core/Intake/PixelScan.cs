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
/// chunk at a time. Benchmark: bench/pixel-check.
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
        _rebuild = recipe is null ? null : RebuildLines.For(recipe, part);
    }

    public RebuildFacts? Rebuild { get; private set; }

    /// <summary>Reads everything; adds the lines that are lost and returns the first reason, or null.</summary>
    public string? Run(List<(int First, int Last)> lost, CancellationToken cancel)
    {
        string? reason = null;
        byte[] buffer = ArrayPool<byte>.Shared.Rent(_file.ChunkBufferSize(_part));
        int width = (int)_part.DataWindow.Width;
        try
        {
            for (int chunk = 0; chunk < _part.ChunkCount; chunk++)
            {
                cancel.ThrowIfCancellationRequested();
                (int first, int last) = ExrFile.LinesOf(_part, chunk);
                ReadOnlySpan<byte> lines;
                try
                {
                    lines = _file.ReadChunk(_part, chunk, buffer);
                }
                catch (ImageException e)
                {
                    reason ??= e.Reason;
                    lost.Add((first, last));
                    continue;
                }

                // Channel by channel, so that each histogram stays in the cache for all lines of the chunk.
                for (int c = 0; c < _channels.Length; c++)
                {
                    int bytes = _part.Channels[c].Type.Bytes(), at = _part.PixelOffsets[c] * width;
                    for (int y = first; y <= last; y++)
                    {
                        _channels[c].AddLine(lines.Slice((y - first) * (int)_part.BytesPerLine + at, bytes * width), bytes, _part.DataWindow.MinX, y);
                    }
                }

                for (int y = first; _rebuild is not null && y <= last; y++)
                {
                    _rebuild.Add(lines.Slice((y - first) * (int)_part.BytesPerLine, (int)_part.BytesPerLine), y);
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
