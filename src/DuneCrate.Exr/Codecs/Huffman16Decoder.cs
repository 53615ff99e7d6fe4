using System.Buffers;
using System.Buffers.Binary;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;

namespace DuneCrate.Exr.Codecs;

/// <summary>
/// The canonical Huffman code over 16-bit words that PIZ and DWA use, with one code for runs of the word before. Layout: smallest and
/// largest symbol, an unused
/// word, the number of bits, an unused word (32 bits each), packed code lengths, then the bits, highest first. The largest symbol is the
/// run code. Codes have at
/// most 58 bits; longer codes have smaller values. The layout is the reference implementation's.
/// </summary>
internal static class Huffman16Decoder
{
    internal const int HeaderBytes = 20,
        MostBits = 58,
        Symbols = 65537;
    internal const int ShortZeroRun = 59,
        LongZeroRun = 63,
        ShortestLongRun = 6;
    private const int MostTableBits = 14,
        FewerTableBits = 11,
        ManyWords = 1 << 18,
        LengthBits = 6,
        LengthMask = (1 << LengthBits) - 1;
    private const int CountAt = 6,
        FirstAt = 8,
        WordsAt = 16,
        MostWords = 3,
        Room = 4 * MostWords + 1;

    /// <summary>Decodes exactly as many words as <paramref name="words"/> holds.</summary>
    /// <exception cref="InvalidDataException">The bytes are no such code, or make fewer or more words.</exception>
    public static void Decode(ReadOnlySpan<byte> packed, Span<ushort> words)
    {
        if (words.IsEmpty)
        {
            return;
        }

        if (packed.Length < HeaderBytes)
        {
            throw new InvalidDataException("a Huffman block ends inside its header");
        }

        uint first = BinaryPrimitives.ReadUInt32LittleEndian(packed),
            last = BinaryPrimitives.ReadUInt32LittleEndian(packed[4..]),
            bits = BinaryPrimitives.ReadUInt32LittleEndian(packed[12..]);
        if (first >= Symbols || last >= Symbols || first > last)
        {
            throw new InvalidDataException($"a Huffman table claims the symbols {first} to {last}");
        }

        byte[] lengths = ArrayPool<byte>.Shared.Rent(Symbols);
        int[] sorted = ArrayPool<int>.Shared.Rent(Symbols);
        ulong[] table = ArrayPool<ulong>.Shared.Rent(1 << MostTableBits);
        try
        {
            lengths.AsSpan(0, Symbols).Clear();
            int used = ReadLengths(packed[HeaderBytes..], lengths, (int)first, (int)last);
            ReadOnlySpan<byte> body = packed[(HeaderBytes + used)..];
            if (bits > (ulong)body.Length * 8)
            {
                throw new InvalidDataException($"a Huffman block claims {bits} bits in {body.Length} bytes");
            }

            Span<ulong> bases = stackalloc ulong[MostBits + 1];
            Span<int> counts = stackalloc int[MostBits + 1],
                starts = stackalloc int[MostBits + 1];
            // A larger table pays where there is much to decode.
            int tableBits = words.Length >= ManyWords ? MostTableBits : FewerTableBits;
            Prepare(lengths, (int)first, (int)last, bases, counts, starts, sorted, table.AsSpan(0, 1 << tableBits), tableBits);
            Run(body, bits, (int)last, bases, counts, starts, sorted, table.AsSpan(0, 1 << tableBits), tableBits, words);
        }
        finally
        {
            ArrayPool<byte>.Shared.Return(lengths);
            ArrayPool<int>.Shared.Return(sorted);
            ArrayPool<ulong>.Shared.Return(table);
        }
    }

    /// <summary>Reads 6-bit code lengths with runs of zeros; returns the bytes used.</summary>
    private static int ReadLengths(ReadOnlySpan<byte> bytes, byte[] lengths, int first, int last)
    {
        ulong buffer = 0;
        int have = 0,
            at = 0;
        int Take(ReadOnlySpan<byte> from, int count)
        {
            while (have < count)
            {
                if (at >= from.Length)
                {
                    throw new InvalidDataException("a Huffman table ends early");
                }

                buffer = (buffer << 8) | from[at++];
                have += 8;
            }

            have -= count;
            return (int)((buffer >> have) & ((1UL << count) - 1));
        }

        for (int symbol = first; symbol <= last; )
        {
            int length = Take(bytes, 6);
            if (length < ShortZeroRun)
            {
                lengths[symbol++] = (byte)length;
                continue;
            }

            int zeros = length == LongZeroRun ? Take(bytes, 8) + ShortestLongRun : length - ShortZeroRun + 2;
            if (symbol + zeros > last + 1)
            {
                throw new InvalidDataException("a run of zeros goes beyond the Huffman table");
            }

            symbol += zeros;
        }

        return at;
    }

    /// <summary>
    /// Canonical codes: <paramref name="bases"/>[l] is the first code of length l; symbols of one length stand in ascending order.
    /// </summary>
    private static void Prepare(
        byte[] lengths,
        int first,
        int last,
        Span<ulong> bases,
        Span<int> counts,
        Span<int> starts,
        int[] sorted,
        Span<ulong> table,
        int tableBits
    )
    {
        for (int s = first; s <= last; s++)
        {
            counts[lengths[s]]++;
        }

        counts[0] = 0;
        ulong code = 0;
        for (int l = MostBits; l > 0; l--)
        {
            bases[l] = code;
            if (bases[l] + (ulong)counts[l] > 1UL << l)
            {
                throw new InvalidDataException("a Huffman table has more codes than there can be");
            }

            code = (code + (ulong)counts[l]) >> 1;
        }

        int at = 0;
        for (int l = 1; l <= MostBits; l++)
        {
            starts[l] = at;
            at += counts[l];
        }

        Span<int> next = stackalloc int[MostBits + 1];
        starts.CopyTo(next);
        for (int s = first; s <= last; s++)
        {
            if (lengths[s] > 0)
            {
                sorted[next[lengths[s]]++] = s;
            }
        }

        Span<int> single = stackalloc int[1 << tableBits];
        single.Clear();
        for (int l = 1; l <= tableBits; l++)
        {
            for (int i = 0; i < counts[l]; i++)
            {
                single
                    .Slice((int)((bases[l] + (ulong)i) << (tableBits - l)), 1 << (tableBits - l))
                    .Fill((sorted[starts[l] + i] << LengthBits) | l);
            }
        }

        for (int bits = 0; bits < table.Length; bits++)
        {
            table[bits] = Entry(single, tableBits, bits, last);
        }
    }

    /// <summary>
    /// What the next bits begin with, up to three words at once. From the lowest bit: the bits of all of them (6), how many (2; 0 for a
    /// run, a longer code or none), the
    /// bits of the first code (6; 0 for a longer code or none), then the words, 16 bits each.
    /// </summary>
    private static ulong Entry(ReadOnlySpan<int> single, int tableBits, int bits, int runCode)
    {
        int length = single[bits] & LengthMask,
            symbol = single[bits] >> LengthBits;
        if (length == 0 || symbol == runCode)
        {
            return (ulong)length << FirstAt;
        }

        ulong words = (ulong)symbol << WordsAt;
        int used = length,
            count = 1;
        for (; count < MostWords; count++)
        {
            int next = single[(bits << used) & ((1 << tableBits) - 1)],
                more = next & LengthMask;
            if (more == 0 || more > tableBits - used || next >> LengthBits == runCode)
            {
                break;
            }

            words |= (ulong)(next >> LengthBits) << (WordsAt + 16 * count);
            used += more;
        }

        return words | ((ulong)length << FirstAt) | ((ulong)count << CountAt) | (uint)used;
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static void Run(
        ReadOnlySpan<byte> body,
        uint bits,
        int runCode,
        ReadOnlySpan<ulong> bases,
        ReadOnlySpan<int> counts,
        ReadOnlySpan<int> starts,
        int[] sorted,
        ReadOnlySpan<ulong> table,
        int tableBits,
        Span<ushort> words
    )
    {
        // The buffer's highest bits are the next ones; bits beyond the block's are zeros and are told by their count.
        ulong buffer = 0;
        int have = 0,
            at = 0,
            written = 0;
        ref byte from = ref MemoryMarshal.GetReference(body);
        ref ulong entries = ref MemoryMarshal.GetReference(table);
        ref ushort to = ref MemoryMarshal.GetReference(words);
        while (8L * at - have < bits)
        {
            // Four entries a turn, while that many bits and that much room are certain to be there.
            while (at <= body.Length - 8 && written <= words.Length - Room && 8L * at - have + 64 <= bits)
            {
                buffer |= BinaryPrimitives.ReverseEndianness(Unsafe.ReadUnaligned<ulong>(ref Unsafe.Add(ref from, at))) >> have;
                at += (63 - have) >> 3;
                have |= 56;
                int count = 1;
                for (int turn = 0; turn < 4 && count > 0; turn++)
                {
                    ulong some = Unsafe.Add(ref entries, (nint)(buffer >> (64 - tableBits)));
                    Unsafe.WriteUnaligned(ref Unsafe.As<ushort, byte>(ref Unsafe.Add(ref to, written)), some >> WordsAt);
                    count = (int)(some >> CountAt) & MostWords;
                    int used = (int)some & LengthMask;
                    written += count;
                    buffer <<= used;
                    have -= used;
                }

                if (count == 0)
                {
                    break;
                }
            }

            while (have <= 56 && at < body.Length && have < MostBits)
            {
                buffer |= (ulong)body[at++] << (56 - have);
                have += 8;
            }

            ulong entry = table[(int)(buffer >> (64 - tableBits))];
            int length = (int)(entry >> FirstAt) & LengthMask,
                symbol = (entry & (MostWords << CountAt)) != 0 ? (ushort)(entry >> WordsAt) : runCode;
            if (length == 0)
            {
                (symbol, length) = Long(buffer, tableBits, bases, counts, starts, sorted);
            }

            long left = bits - (8L * at - have);
            if (length > left)
            {
                throw new InvalidDataException("a Huffman block ends inside a code");
            }

            buffer <<= length;
            have -= length;
            if (symbol != runCode)
            {
                if (written == words.Length)
                {
                    throw new InvalidDataException($"a Huffman block makes more than {words.Length} words");
                }

                words[written++] = (ushort)symbol;
                continue;
            }

            while (have < 8 && at < body.Length)
            {
                buffer |= (ulong)body[at++] << (56 - have);
                have += 8;
            }

            int run = (int)(buffer >> 56);
            if (left - length < 8 || written == 0 || run > words.Length - written)
            {
                throw new InvalidDataException("a run in a Huffman block goes beyond it");
            }

            buffer <<= 8;
            have -= 8;
            words.Slice(written, run).Fill(words[written - 1]);
            written += run;
        }

        if (written != words.Length)
        {
            throw new InvalidDataException($"a Huffman block makes {written} words where {words.Length} belong");
        }
    }

    private static (int Symbol, int Length) Long(
        ulong buffer,
        int tableBits,
        ReadOnlySpan<ulong> bases,
        ReadOnlySpan<int> counts,
        ReadOnlySpan<int> starts,
        int[] sorted
    )
    {
        for (int l = tableBits + 1; l <= MostBits; l++)
        {
            ulong offset = (buffer >> (64 - l)) - bases[l];
            if (offset < (ulong)counts[l])
            {
                return (sorted[starts[l] + (int)offset], l);
            }
        }

        throw new InvalidDataException("a Huffman block holds a code that is not in its table");
    }
}
