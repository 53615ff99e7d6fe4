using System.Buffers.Binary;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;

namespace DuneCrate.Exr.Codecs;

/// <summary>
/// Blocks of 4 × 4 halves in 14 bytes: a first value and 15 differences of 6 bits under a common shift; flat blocks in 3 bytes
/// (B44A writes them). Other types are
/// stored as they are. Read only. Source: <em>Technical Introduction to OpenEXR</em>, B44; bit layout from the reference implementation.
/// </summary>
public sealed class B44Codec : IExrCodec
{
    private const int BlockBytes = 14,
        FlatBytes = 3,
        FlatShift = 13;

    /// <summary>Half of a perceptually linear channel, by its stored logarithm: 8 · ln(x), 0 for negative and non-finite.</summary>
    private static readonly ushort[] Linear = [.. Enumerable.Range(0, 65536).Select(ToLinear)];

    /// <inheritdoc/>
    public bool CanEncode => false;

    /// <inheritdoc/>
    public void Decode(ReadOnlyMemory<byte> packed, Span<byte> lines, Span<byte> scratch, in ExrChunkShape shape)
    {
        Unpack(packed.Span, scratch[..lines.Length], shape);
        PlanarLines.ToLines(scratch[..lines.Length], lines, shape);
    }

    /// <inheritdoc/>
    public void DecodePlanes(ReadOnlyMemory<byte> packed, Span<byte> planes, Span<byte> scratch, in ExrChunkShape shape, IPlaneSink sink)
    {
        Unpack(packed.Span, planes, shape);
        PlanarLines.Hand(planes, shape, sink);
    }

    private static void Unpack(ReadOnlySpan<byte> from, Span<byte> planar, in ExrChunkShape shape)
    {
        int to = 0;
        for (int c = 0; c < shape.Part.Channels.Length; c++)
        {
            ExrChannel channel = shape.Part.Channels[c];
            int width = shape.Samples(c),
                height = shape.LinesOf(c),
                bytes = width * height * channel.Type.Bytes();
            Span<byte> plane = planar.Slice(to, bytes);
            int used =
                channel.Type == ExrPixelType.Half ? Blocks(from, MemoryMarshal.Cast<byte, ushort>(plane), width, height) : Raw(from, plane);
            if (channel is { Type: ExrPixelType.Half, IsPerceptuallyLinear: true })
            {
                foreach (ref ushort value in MemoryMarshal.Cast<byte, ushort>(plane))
                {
                    value = Linear[value];
                }
            }

            from = from[used..];
            to += bytes;
        }
    }

    /// <inheritdoc/>
    public int Encode(ReadOnlySpan<byte> lines, Span<byte> packed, Span<byte> scratch, in ExrChunkShape shape) =>
        throw new NotSupportedException("B44 is read and not written.");

    private static int Raw(ReadOnlySpan<byte> from, Span<byte> plane)
    {
        if (from.Length < plane.Length)
        {
            throw new InvalidDataException("a B44 chunk ends early");
        }

        from[..plane.Length].CopyTo(plane);
        return plane.Length;
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static int Blocks(ReadOnlySpan<byte> from, Span<ushort> plane, int width, int height)
    {
        Span<ushort> block = stackalloc ushort[16];
        int at = 0;
        for (int y = 0; y < height; y += 4)
        {
            for (int x = 0; x < width; x += 4)
            {
                if (from.Length - at < FlatBytes)
                {
                    throw new InvalidDataException("a B44 chunk ends early");
                }

                Vector128<ushort> upper,
                    lower;
                if (from[at + 2] >= FlatShift << 2)
                {
                    upper = lower = Vector128.Create(BinaryPrimitives.ReadUInt16BigEndian(from[at..]));
                    at += FlatBytes;
                }
                else
                {
                    if (from.Length - at < BlockBytes)
                    {
                        throw new InvalidDataException("a B44 chunk ends early");
                    }

                    (upper, lower) = Unpack(
                        BinaryPrimitives.ReadUInt64BigEndian(from[at..]),
                        BinaryPrimitives.ReadUInt64BigEndian(from[(at + 6)..])
                    );
                    at += BlockBytes;
                }

                (upper, lower) = (Ordered(upper), Ordered(lower));
                if (x + 4 <= width && y + 4 <= height)
                {
                    Put(upper.AsUInt64(), lower.AsUInt64(), ref Unsafe.As<ushort, byte>(ref plane[y * width + x]), 2 * width);
                }
                else
                {
                    upper.CopyTo(block);
                    lower.CopyTo(block[8..]);
                    for (int row = 0; row < Math.Min(4, height - y); row++)
                    {
                        block.Slice(4 * row, Math.Min(4, width - x)).CopyTo(plane[((y + row) * width + x)..]);
                    }
                }
            }
        }

        return at;
    }

    /// <summary>Writes four rows of four samples; the last of them is known to lie in the plane.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static void Put(Vector128<ulong> upper, Vector128<ulong> lower, ref byte to, int pitch)
    {
        Unsafe.WriteUnaligned(ref to, upper[0]);
        Unsafe.WriteUnaligned(ref Unsafe.Add(ref to, pitch), upper[1]);
        Unsafe.WriteUnaligned(ref Unsafe.Add(ref to, 2 * pitch), lower[0]);
        Unsafe.WriteUnaligned(ref Unsafe.Add(ref to, 3 * pitch), lower[1]);
    }

    /// <summary>
    /// The 4 × 4 values of a block, two rows in each vector. The first eight bytes are the first value (16 bits), the shift (6), the
    /// differences down the first column (3 × 6)
    /// and those from it to the second (4 × 6); the last six bytes are the differences to the third and to the fourth column. The second
    /// argument begins two bytes before them.
    /// </summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static (Vector128<ushort> Upper, Vector128<ushort> Lower) Unpack(ulong head, ulong tail)
    {
        int shift = (int)(head >> 42) & 0x3f,
            bias = 0x20 << shift;
        int v0 = (int)(head >> 48),
            v4 = v0 + (((int)(head >> 36) & 0x3f) << shift) - bias,
            v8 = v4 + (((int)(head >> 30) & 0x3f) << shift) - bias,
            v12 = v8 + (((int)(head >> 24) & 0x3f) << shift) - bias;
        Vector128<ushort> first = Vector128
            .CreateScalarUnsafe((ushort)v0 | ((ulong)(ushort)v4 << 16) | ((ulong)(ushort)v8 << 32) | ((ulong)(ushort)v12 << 48))
            .AsUInt16();
        Vector128<ushort> second = first + Differences(head, shift, bias),
            third = second + Differences(tail >> 24, shift, bias),
            fourth = third + Differences(tail, shift, bias);
        Vector128<uint> left = Vector128.WidenLower(first) | (Vector128.WidenLower(second) << 16),
            right = Vector128.WidenLower(third) | (Vector128.WidenLower(fourth) << 16);
        return (
            (Vector128.WidenLower(left) | (Vector128.WidenLower(right) << 32)).AsUInt16(),
            (Vector128.WidenUpper(left) | (Vector128.WidenUpper(right) << 32)).AsUInt16()
        );
    }

    /// <summary>Four differences of 6 bits, the first in the highest of the lowest 24, as words from the lowest lane on.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Vector128<ushort> Differences(ulong bits, int shift, int bias)
    {
        ulong lanes =
            ((bits >> 18) & 0x3f) | ((bits << 4) & (0x3ful << 16)) | ((bits << 26) & (0x3ful << 32)) | ((bits << 48) & (0x3ful << 48));
        return (Vector128.CreateScalarUnsafe(lanes).AsUInt16() << shift) - Vector128.Create((ushort)bias);
    }

    /// <summary>
    /// Halves from the order-preserving form that blocks are packed in: positive numbers have the top bit set, negative ones are inverted.
    /// </summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Vector128<ushort> Ordered(Vector128<ushort> packed)
    {
        Vector128<ushort> isPositive = (packed.AsInt16() >> 15).AsUInt16();
        return Vector128.ConditionalSelect(isPositive, packed & Vector128.Create((ushort)0x7fff), ~packed);
    }

    private static ushort ToLinear(int bits)
    {
        float x = (float)BitConverter.UInt16BitsToHalf((ushort)bits);
        return !float.IsFinite(x) || x < 0 ? (ushort)0 : BitConverter.HalfToUInt16Bits((Half)(8 * MathF.Log(x)));
    }
}
