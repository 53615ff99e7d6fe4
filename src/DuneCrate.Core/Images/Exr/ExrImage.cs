using System.Buffers;
using System.Buffers.Binary;
using System.Collections.Immutable;
using System.Numerics.Tensors;
using System.Runtime.InteropServices;
using DuneCrate.Core.Passes;

namespace DuneCrate.Core.Images.Exr;

/// <summary>
/// One part with its pixels in memory: per channel width × height samples as 32-bit floats, row-major, top line first. Whole
/// numbers of uint channels above 2^24 are not exact in it.
/// </summary>
public sealed class ExrImage(ExrPart part, ImmutableDictionary<string, float[]> planes)
{
    /// <summary>The header.</summary>
    public ExrPart Part { get; } = part;

    /// <summary>Samples by channel name.</summary>
    public ImmutableDictionary<string, float[]> Planes { get; } = planes;

    /// <summary>Pixels across.</summary>
    public int Width => (int)Part.DataWindow.Width;

    /// <summary>Lines.</summary>
    public int Height => (int)Part.DataWindow.Height;

    /// <summary>
    /// Reads the named channels of a part (all of them when <paramref name="channels"/> is null). Lines that are lost stay 0 and are
    /// reported in <paramref name="problem"/>.
    /// </summary>
    public static ExrImage Read(ExrFile file, ExrPart part, IReadOnlyCollection<string>? channels, out string? problem, CancellationToken cancel = default)
    {
        problem = null;
        int width = (int)part.DataWindow.Width;
        var wanted = part.Channels.Select((c, i) => (Channel: c, Index: i)).Where(c => channels is null || channels.Contains(c.Channel.Name)).ToArray();
        var planes = wanted.ToImmutableDictionary(c => c.Channel.Name, _ => new float[checked(width * (int)part.DataWindow.Height)]);
        byte[] buffer = ArrayPool<byte>.Shared.Rent(file.ChunkBufferSize(part));
        try
        {
            for (int chunk = 0; chunk < part.ChunkCount; chunk++)
            {
                cancel.ThrowIfCancellationRequested();
                (int first, int last) = ExrFile.LinesOf(part, chunk);
                try
                {
                    ReadOnlySpan<byte> lines = file.ReadChunk(part, chunk, buffer);
                    for (int y = first; y <= last; y++)
                    {
                        ReadOnlySpan<byte> line = lines.Slice((y - first) * (int)part.BytesPerLine, (int)part.BytesPerLine);
                        foreach ((ExrChannel channel, int index) in wanted)
                        {
                            ReadOnlySpan<byte> samples = line.Slice(part.PixelOffsets[index] * width, channel.Type.Bytes() * width);
                            ToFloats(samples, channel.Type, planes[channel.Name].AsSpan((y - part.DataWindow.MinY) * width, width));
                        }
                    }
                }
                catch (ImageException e) when (e.Problem == ImageProblem.Truncated)
                {
                    problem ??= $"lines from {first} are lost: {e.Reason}";
                }
            }
        }
        finally
        {
            ArrayPool<byte>.Shared.Return(buffer);
        }

        return new ExrImage(part, planes);
    }

    /// <summary>The sample of one channel at one pixel, read without the rest of the picture. Coordinates as in the data window.</summary>
    /// <exception cref="ImageException">The chunk is lost or of a kind that is not read.</exception>
    public static IReadOnlyDictionary<string, float> Probe(ExrFile file, ExrPart part, int x, int y)
    {
        var values = new Dictionary<string, float>();
        if (!part.DataWindow.Contains(x, y))
        {
            return values;
        }

        byte[] buffer = ArrayPool<byte>.Shared.Rent(file.ChunkBufferSize(part));
        try
        {
            int chunk = ExrFile.ChunkOfLine(part, y), width = (int)part.DataWindow.Width;
            ReadOnlySpan<byte> line = file.ReadChunk(part, chunk, buffer)[((y - ExrFile.LinesOf(part, chunk).First) * (int)part.BytesPerLine)..];
            Span<float> value = stackalloc float[1];
            for (int i = 0; i < part.Channels.Length; i++)
            {
                int bytes = part.Channels[i].Type.Bytes();
                ToFloats(line.Slice(part.PixelOffsets[i] * width + (x - part.DataWindow.MinX) * bytes, bytes), part.Channels[i].Type, value);
                values[part.Channels[i].Name] = value[0];
            }
        }
        finally
        {
            ArrayPool<byte>.Shared.Return(buffer);
        }

        return values;
    }

    /// <summary>Converts samples as stored to floats.</summary>
    public static void ToFloats(ReadOnlySpan<byte> samples, ChannelType type, Span<float> floats)
    {
        if (type == ChannelType.Half)
        {
            TensorPrimitives.ConvertToSingle(MemoryMarshal.Cast<byte, Half>(samples), floats);
        }
        else if (type == ChannelType.Float)
        {
            MemoryMarshal.Cast<byte, float>(samples).CopyTo(floats);
        }
        else
        {
            for (int i = 0; i < floats.Length; i++)
            {
                floats[i] = BinaryPrimitives.ReadUInt32LittleEndian(samples[(4 * i)..]);
            }
        }
    }

    /// <summary>Converts floats to samples as stored: rounding to nearest even for half (IEEE 754), towards zero within 0..2^32−1 for uint.</summary>
    public static void FromFloats(ReadOnlySpan<float> floats, ChannelType type, Span<byte> samples)
    {
        if (type == ChannelType.Half)
        {
            TensorPrimitives.ConvertToHalf(floats, MemoryMarshal.Cast<byte, Half>(samples));
        }
        else if (type == ChannelType.Float)
        {
            floats.CopyTo(MemoryMarshal.Cast<byte, float>(samples));
        }
        else
        {
            for (int i = 0; i < floats.Length; i++)
            {
                BinaryPrimitives.WriteUInt32LittleEndian(samples[(4 * i)..], float.IsNaN(floats[i]) ? 0 : (uint)Math.Clamp(floats[i], 0d, uint.MaxValue));
            }
        }
    }
}
