using System.Runtime.InteropServices;
using DuneCrate.Core.Passes;

namespace DuneCrate.Core.Images.Exr.Codecs;

/// <summary>
/// Blocks of 4 × 4 halves in 14 bytes: a first value and 15 differences of 6 bits under a common shift; flat blocks in 3 bytes (B44A writes them). Other types are
/// stored as they are. Read only. Source: <em>Technical Introduction to OpenEXR</em>, B44; bit layout from the reference implementation.
/// </summary>
public sealed class B44Codec : IExrCodec
{
    private const int BlockBytes = 14, FlatBytes = 3, FlatShift = 13;

    /// <summary>Half of a perceptually linear channel, by its stored logarithm: 8 · ln(x), 0 for negative and non-finite.</summary>
    private static readonly ushort[] Linear = [.. Enumerable.Range(0, 65536).Select(ToLinear)];

    /// <inheritdoc/>
    public bool CanEncode => false;

    /// <inheritdoc/>
    public void Decode(ReadOnlyMemory<byte> packed, Span<byte> lines, Span<byte> scratch, in ExrChunkShape shape)
    {
        ReadOnlySpan<byte> from = packed.Span;
        Span<byte> planar = scratch[..lines.Length];
        int to = 0;
        for (int c = 0; c < shape.Part.Channels.Length; c++)
        {
            ExrChannel channel = shape.Part.Channels[c];
            int width = shape.Samples(c), height = shape.LinesOf(c), bytes = width * height * channel.Type.Bytes();
            Span<byte> plane = planar.Slice(to, bytes);
            int used = channel.Type == ChannelType.Half ? Blocks(from, MemoryMarshal.Cast<byte, ushort>(plane), width, height) : Raw(from, plane);
            if (channel is { Type: ChannelType.Half, IsPerceptuallyLinear: true })
            {
                foreach (ref ushort value in MemoryMarshal.Cast<byte, ushort>(plane))
                {
                    value = Linear[value];
                }
            }

            from = from[used..];
            to += bytes;
        }

        PlanarLines.ToLines(planar, lines, shape);
    }

    /// <inheritdoc/>
    public int Encode(ReadOnlySpan<byte> lines, Span<byte> packed, Span<byte> scratch, in ExrChunkShape shape) => throw new NotSupportedException("B44 is read and not written.");

    private static int Raw(ReadOnlySpan<byte> from, Span<byte> plane)
    {
        if (from.Length < plane.Length)
        {
            throw new InvalidDataException("a B44 chunk ends early");
        }

        from[..plane.Length].CopyTo(plane);
        return plane.Length;
    }

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

                if (from[at + 2] >= FlatShift << 2)
                {
                    block.Fill(Ordered((ushort)((from[at] << 8) | from[at + 1])));
                    at += FlatBytes;
                }
                else
                {
                    if (from.Length - at < BlockBytes)
                    {
                        throw new InvalidDataException("a B44 chunk ends early");
                    }

                    Unpack(from.Slice(at, BlockBytes), block);
                    at += BlockBytes;
                }

                int columns = Math.Min(4, width - x), rows = Math.Min(4, height - y);
                for (int row = 0; row < rows; row++)
                {
                    block.Slice(4 * row, columns).CopyTo(plane[((y + row) * width + x)..]);
                }
            }
        }

        return at;
    }

    private static void Unpack(ReadOnlySpan<byte> b, Span<ushort> s)
    {
        int shift = b[2] >> 2, bias = 0x20 << shift;
        int v0 = (b[0] << 8) | b[1];
        int Step(int before, int bits) => (ushort)(before + ((bits & 0x3f) << shift) - bias);
        int v4 = Step(v0, (b[2] << 4) | (b[3] >> 4)), v8 = Step(v4, (b[3] << 2) | (b[4] >> 6)), v12 = Step(v8, b[4]);
        int v1 = Step(v0, b[5] >> 2), v5 = Step(v4, (b[5] << 4) | (b[6] >> 4)), v9 = Step(v8, (b[6] << 2) | (b[7] >> 6)), v13 = Step(v12, b[7]);
        int v2 = Step(v1, b[8] >> 2), v6 = Step(v5, (b[8] << 4) | (b[9] >> 4)), v10 = Step(v9, (b[9] << 2) | (b[10] >> 6)), v14 = Step(v13, b[10]);
        int v3 = Step(v2, b[11] >> 2), v7 = Step(v6, (b[11] << 4) | (b[12] >> 4)), v11 = Step(v10, (b[12] << 2) | (b[13] >> 6)), v15 = Step(v14, b[13]);
        ReadOnlySpan<int> all = [v0, v1, v2, v3, v4, v5, v6, v7, v8, v9, v10, v11, v12, v13, v14, v15];
        for (int i = 0; i < 16; i++)
        {
            s[i] = Ordered((ushort)all[i]);
        }
    }

    /// <summary>A half from the order-preserving form that blocks are packed in.</summary>
    private static ushort Ordered(ushort packed) => (packed & 0x8000) != 0 ? (ushort)(packed & 0x7fff) : (ushort)~packed;

    private static ushort ToLinear(int bits)
    {
        float x = (float)BitConverter.UInt16BitsToHalf((ushort)bits);
        return !float.IsFinite(x) || x < 0 ? (ushort)0 : BitConverter.HalfToUInt16Bits((Half)(8 * MathF.Log(x)));
    }
}
