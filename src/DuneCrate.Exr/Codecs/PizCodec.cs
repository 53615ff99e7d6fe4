using System.Buffers;
using System.Buffers.Binary;
using System.Numerics;
using System.Runtime.InteropServices;

namespace DuneCrate.Exr.Codecs;

/// <summary>
/// A table of the values that occur, a wavelet transform per channel, and Huffman coding: the values as 16-bit words, 32-bit samples as two
/// interleaved grids.
/// Source: <em>Technical Introduction to OpenEXR</em>, PIZ; layout from the reference implementation.
/// </summary>
public sealed class PizCodec : IExrCodec
{
    private const int BitmapBytes = 8192,
        Values = 65536;

    /// <inheritdoc/>
    public void Decode(ReadOnlyMemory<byte> packed, Span<byte> lines, Span<byte> scratch, in ExrChunkShape shape)
    {
        ushort[] table = ArrayPool<ushort>.Shared.Rent(Values);
        try
        {
            Unpack(packed.Span, scratch[..lines.Length], table, shape, null);
            PlanarLines.ToLines(scratch[..lines.Length], lines, shape, table);
        }
        finally
        {
            ArrayPool<ushort>.Shared.Return(table);
        }
    }

    /// <inheritdoc/>
    public void DecodePlanes(ReadOnlyMemory<byte> packed, Span<byte> planes, Span<byte> scratch, in ExrChunkShape shape, IPlaneSink sink)
    {
        ushort[] table = ArrayPool<ushort>.Shared.Rent(Values);
        try
        {
            Unpack(packed.Span, planes, table, shape, sink);
            int at = 0;
            for (int c = 0; c < shape.Part.Channels.Length; c++)
            {
                Span<byte> plane = planes.Slice(at, shape.LineBytes(c) * shape.LinesOf(c));
                at += plane.Length;
                if (sink.Wants(c))
                {
                    Span<ushort> words = MemoryMarshal.Cast<byte, ushort>(plane);
                    PlanarLines.LookUp(words, words, table);
                    sink.Take(c, plane);
                }
            }
        }
        finally
        {
            ArrayPool<ushort>.Shared.Return(table);
        }
    }

    /// <summary>Channel after channel, as indices into <paramref name="table"/>, which is filled.</summary>
    private static void Unpack(ReadOnlySpan<byte> from, Span<byte> planes, ushort[] table, in ExrChunkShape shape, IPlaneSink? sink)
    {
        byte[] bitmap = ArrayPool<byte>.Shared.Rent(BitmapBytes);
        try
        {
            bitmap.AsSpan(0, BitmapBytes).Clear();
            int used = ReadBitmap(from, bitmap);
            int largest = FillTable(bitmap, table);
            if (
                from.Length < used + 4
                || BinaryPrimitives.ReadInt32LittleEndian(from[used..]) is var length && (length < 0 || length > from.Length - used - 4)
            )
            {
                throw new InvalidDataException("a PIZ chunk ends inside its Huffman block");
            }

            Span<ushort> words = MemoryMarshal.Cast<byte, ushort>(planes);
            Huffman16Decoder.Decode(from.Slice(used + 4, BinaryPrimitives.ReadInt32LittleEndian(from[used..])), words);
            Transform(words, shape, largest, forward: false, sink);
        }
        finally
        {
            ArrayPool<byte>.Shared.Return(bitmap);
        }
    }

    /// <inheritdoc/>
    public int Encode(ReadOnlySpan<byte> lines, Span<byte> packed, Span<byte> scratch, in ExrChunkShape shape)
    {
        PlanarLines.FromLines(lines, scratch, shape);
        Span<ushort> words = MemoryMarshal.Cast<byte, ushort>(scratch[..lines.Length]);
        byte[] bitmap = new byte[BitmapBytes];
        foreach (ushort word in words)
        {
            bitmap[word >> 3] |= (byte)(1 << (word & 7));
        }

        // Zero is always in the table and never in the bitmap.
        bitmap[0] &= 0xfe;
        ushort[] index = new ushort[Values];
        int largest = 0;
        for (int value = 1; value < Values; value++)
        {
            if ((bitmap[value >> 3] & (1 << (value & 7))) != 0)
            {
                index[value] = (ushort)++largest;
            }
        }

        for (int i = 0; i < words.Length; i++)
        {
            words[i] = index[words[i]];
        }

        int first = Array.FindIndex(bitmap, b => b != 0),
            last = Array.FindLastIndex(bitmap, b => b != 0);
        (first, last) = first < 0 ? (BitmapBytes - 1, 0) : (first, last);
        int used = 4 + Math.Max(0, last - first + 1);
        if (packed.Length <= used + 24)
        {
            return -1;
        }

        BinaryPrimitives.WriteUInt16LittleEndian(packed, (ushort)first);
        BinaryPrimitives.WriteUInt16LittleEndian(packed[2..], (ushort)last);
        bitmap.AsSpan(Math.Min(first, last + 1), Math.Max(0, last - first + 1)).CopyTo(packed[4..]);
        Transform(words, shape, largest, forward: true, null);
        int length = Huffman16Encoder.Encode(words, packed[(used + 4)..]);
        if (length < 0 || used + 4 + length >= packed.Length)
        {
            return -1;
        }

        BinaryPrimitives.WriteInt32LittleEndian(packed[used..], length);
        return used + 4 + length;
    }

    private static int ReadBitmap(ReadOnlySpan<byte> from, byte[] bitmap)
    {
        if (from.Length < 4)
        {
            throw new InvalidDataException("a PIZ chunk ends inside its table");
        }

        int first = BinaryPrimitives.ReadUInt16LittleEndian(from),
            last = BinaryPrimitives.ReadUInt16LittleEndian(from[2..]);
        if (last >= BitmapBytes)
        {
            throw new InvalidDataException($"a PIZ table claims to go to byte {last}");
        }

        if (first > last)
        {
            return 4;
        }

        int count = last - first + 1;
        if (from.Length < 4 + count)
        {
            throw new InvalidDataException("a PIZ chunk ends inside its table");
        }

        from.Slice(4, count).CopyTo(bitmap.AsSpan(first));
        return 4 + count;
    }

    /// <summary>Index to value; returns the largest index. Indexes beyond it give 0.</summary>
    private static int FillTable(byte[] bitmap, ushort[] table)
    {
        int count = 0;
        table[count++] = 0;
        for (int b = 0; b < BitmapBytes; b++)
        {
            for (int rest = b == 0 ? bitmap[0] & 0xfe : bitmap[b]; rest != 0; rest &= rest - 1)
            {
                table[count++] = (ushort)(b * 8 + BitOperations.TrailingZeroCount(rest));
            }
        }

        table.AsSpan(count, Values - count).Clear();
        return count - 1;
    }

    private static void Transform(Span<ushort> words, in ExrChunkShape shape, int largest, bool forward, IPlaneSink? sink)
    {
        int at = 0;
        for (int c = 0; c < shape.Part.Channels.Length; c++)
        {
            int width = shape.Samples(c),
                height = shape.LinesOf(c),
                grids = shape.Part.Channels[c].Type.Bytes() / 2;
            for (int grid = 0; grid < grids && sink?.Wants(c) != false; grid++)
            {
                Span<ushort> plane = words.Slice(at, width * height * grids)[Math.Min(grid, width * height * grids)..];
                if (forward)
                {
                    PizWavelet.Encode(plane, width, grids, height, width * grids, largest);
                }
                else
                {
                    PizWavelet.Decode(plane, width, grids, height, width * grids, largest);
                }
            }

            at += width * height * grids;
        }
    }
}
