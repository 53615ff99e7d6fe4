using System.Buffers;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;

namespace DuneCrate.Exr.Codecs;

/// <summary>
/// Differences from one sample to the next, split into planes of bytes and packed with zlib. Float samples keep their upper 24 bits; half
/// and uint are
/// kept whole. Read only. Source: <em>Technical Introduction to OpenEXR</em>, PXR24; layout of the planes from the reference
/// implementation.
/// </summary>
public sealed class Pxr24Codec : IExrCodec
{
    /// <summary>A place that no vector has, which a shuffle fills with 0.</summary>
    private const ushort Beyond = 255;

    /// <inheritdoc/>
    public bool CanEncode => false;

    /// <inheritdoc/>
    /// <remarks>Three bytes make a float.</remarks>
    public int ExpansionFactor => 2;

    /// <inheritdoc/>
    public void Decode(ReadOnlyMemory<byte> packed, Span<byte> lines, Span<byte> scratch, in ExrChunkShape shape) =>
        Unpack(packed, lines, null, shape, null);

    /// <inheritdoc/>
    public void DecodePlanes(ReadOnlyMemory<byte> packed, Span<byte> planes, Span<byte> scratch, in ExrChunkShape shape, IPlaneSink sink)
    {
        Unpack(packed, planes, PlanarLines.Offsets(shape), shape, sink);
        PlanarLines.Hand(planes, shape, sink);
    }

    /// <summary>Into lines, or with the byte at which each channel begins channel after channel.</summary>
    private static void Unpack(ReadOnlyMemory<byte> packed, Span<byte> to, int[]? at, in ExrChunkShape shape, IPlaneSink? sink)
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
            int from = 0,
                line = 0;
            for (int y = shape.Box.MinY; y <= shape.Box.MaxY; y++)
            {
                for (int c = 0; c < part.Channels.Length; c++)
                {
                    if (!shape.Has(c, y))
                    {
                        continue;
                    }

                    ExrPixelType type = part.Channels[c].Type;
                    int samples = shape.Samples(c),
                        size = samples * type.Bytes();
                    ref int place = ref at is null ? ref line : ref at[c];
                    if (sink?.Wants(c) != false)
                    {
                        Line(planes.Slice(from, samples * Planes(type)), type, samples, to.Slice(place, size));
                    }

                    from += samples * Planes(type);
                    place += size;
                }
            }
        }
        finally
        {
            ArrayPool<byte>.Shared.Return(bytes);
        }
    }

    /// <inheritdoc/>
    public int Encode(ReadOnlySpan<byte> lines, Span<byte> packed, Span<byte> scratch, in ExrChunkShape shape) =>
        throw new NotSupportedException("PXR24 is read and not written.");

    private static int Planes(ExrPixelType type) =>
        type switch
        {
            ExrPixelType.Half => 2,
            ExrPixelType.Float => 3,
            _ => 4,
        };

    private static void Line(ReadOnlySpan<byte> planes, ExrPixelType type, int samples, Span<byte> line)
    {
        ReadOnlySpan<byte> p0 = planes[..samples],
            p1 = planes.Slice(samples, samples);
        if (type == ExrPixelType.Half)
        {
            Halves(p0, p1, MemoryMarshal.Cast<byte, ushort>(line));
            return;
        }

        uint value = 0;

        ReadOnlySpan<byte> p2 = planes.Slice(2 * samples, samples),
            p3 = type == ExrPixelType.Float ? [] : planes.Slice(3 * samples, samples);
        Span<uint> words = MemoryMarshal.Cast<byte, uint>(line);
        for (int i = 0; i < words.Length; i++)
        {
            value += ((uint)p0[i] << 24) | ((uint)p1[i] << 16) | ((uint)p2[i] << 8) | (p3.IsEmpty ? 0u : p3[i]);
            words[i] = value;
        }
    }

    /// <summary>
    /// Running sums of 16-bit differences, eight at a time: sums of two, of four, of eight, and the last of the eight before.
    /// </summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static void Halves(ReadOnlySpan<byte> upper, ReadOnlySpan<byte> lower, Span<ushort> halves)
    {
        Vector128<ushort> before = Vector128<ushort>.Zero;
        int i = 0;
        for (; i <= halves.Length - Vector128<ushort>.Count; i += Vector128<ushort>.Count)
        {
            Vector128<ushort> v = (Eight(upper[i..]) << 8) | Eight(lower[i..]);
            v += Vector128.Shuffle(v, Vector128.Create(Beyond, 0, 1, 2, 3, 4, 5, 6));
            v += Vector128.Shuffle(v, Vector128.Create(Beyond, Beyond, 0, 1, 2, 3, 4, 5));
            v += Vector128.Shuffle(v, Vector128.Create(Beyond, Beyond, Beyond, Beyond, 0, 1, 2, 3));
            v += before;
            v.CopyTo(halves[i..]);
            before = Vector128.Shuffle(v, Vector128.Create((ushort)7));
        }

        ushort value = before[0];
        for (; i < halves.Length; i++)
        {
            value += (ushort)((upper[i] << 8) | lower[i]);
            halves[i] = value;
        }
    }

    private static Vector128<ushort> Eight(ReadOnlySpan<byte> bytes) =>
        Vector128.WidenLower(Vector128.CreateScalarUnsafe(MemoryMarshal.Read<ulong>(bytes)).AsByte());
}
