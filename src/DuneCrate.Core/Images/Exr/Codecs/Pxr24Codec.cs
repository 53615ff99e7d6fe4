using System.Buffers;
using System.Runtime.InteropServices;
using DuneCrate.Core.Passes;

namespace DuneCrate.Core.Images.Exr.Codecs;

/// <summary>
/// Differences from one sample to the next, split into planes of bytes and packed with zlib. Float samples keep their upper 24 bits; half and uint are
/// kept whole. Read only. Source: <em>Technical Introduction to OpenEXR</em>, PXR24; layout of the planes from the reference implementation.
/// </summary>
public sealed class Pxr24Codec : IExrCodec
{
    /// <inheritdoc/>
    public bool CanEncode => false;

    /// <inheritdoc/>
    public void Decode(ReadOnlyMemory<byte> packed, Span<byte> lines, Span<byte> scratch, in ExrChunkShape shape)
    {
        ExrPart part = shape.Part;
        int total = 0;
        for (int c = 0; c < part.Channels.Length; c++)
        {
            total += shape.Samples(c) * Planes(part.Channels[c].Type) * shape.LinesOf(c);
        }

        byte[] bytes = ArrayPool<byte>.Shared.Rent(Math.Max(1, total));
        try
        {
            Span<byte> planes = bytes.AsSpan(0, total);
            Inflate.Exactly(packed, planes);
            int from = 0, to = 0;
            for (int y = shape.Box.MinY; y <= shape.Box.MaxY; y++)
            {
                for (int c = 0; c < part.Channels.Length; c++)
                {
                    if (!shape.Has(c, y))
                    {
                        continue;
                    }

                    ChannelType type = part.Channels[c].Type;
                    int samples = shape.Samples(c), size = samples * type.Bytes();
                    Line(planes.Slice(from, samples * Planes(type)), type, samples, lines.Slice(to, size));
                    from += samples * Planes(type);
                    to += size;
                }
            }
        }
        finally
        {
            ArrayPool<byte>.Shared.Return(bytes);
        }
    }

    /// <inheritdoc/>
    public int Encode(ReadOnlySpan<byte> lines, Span<byte> packed, Span<byte> scratch, in ExrChunkShape shape) => throw new NotSupportedException("PXR24 is read and not written.");

    private static int Planes(ChannelType type) => type switch { ChannelType.Half => 2, ChannelType.Float => 3, _ => 4 };

    private static void Line(ReadOnlySpan<byte> planes, ChannelType type, int samples, Span<byte> line)
    {
        ReadOnlySpan<byte> p0 = planes[..samples], p1 = planes.Slice(samples, samples);
        uint value = 0;
        if (type == ChannelType.Half)
        {
            Span<ushort> halves = MemoryMarshal.Cast<byte, ushort>(line);
            for (int i = 0; i < halves.Length; i++)
            {
                value += (uint)((p0[i] << 8) | p1[i]);
                halves[i] = (ushort)value;
            }

            return;
        }

        ReadOnlySpan<byte> p2 = planes.Slice(2 * samples, samples), p3 = type == ChannelType.Float ? [] : planes.Slice(3 * samples, samples);
        Span<uint> words = MemoryMarshal.Cast<byte, uint>(line);
        for (int i = 0; i < words.Length; i++)
        {
            value += ((uint)p0[i] << 24) | ((uint)p1[i] << 16) | ((uint)p2[i] << 8) | (p3.IsEmpty ? 0u : p3[i]);
            words[i] = value;
        }
    }
}
