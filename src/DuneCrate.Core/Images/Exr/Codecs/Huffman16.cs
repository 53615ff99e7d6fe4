using System.Buffers;
using System.Buffers.Binary;
using System.Runtime.CompilerServices;

namespace DuneCrate.Core.Images.Exr.Codecs;

/// <summary>
/// The canonical Huffman code over 16-bit words that PIZ and DWA use, with one code for runs of the word before. Layout: smallest and largest symbol, an unused
/// word, the number of bits, an unused word (32 bits each), packed code lengths, then the bits, highest first. The largest symbol is the run code. Codes have at
/// most 58 bits; longer codes have smaller values. The layout is the reference implementation's.
/// </summary>
internal static class Huffman16
{
    private const int HeaderBytes = 20, MostBits = 58, TableBits = 12, Symbols = 65537;
    private const int ShortZeroRun = 59, LongZeroRun = 63, ShortestLongRun = 6, LongestLongRun = 255 + ShortestLongRun;

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

        uint first = BinaryPrimitives.ReadUInt32LittleEndian(packed), last = BinaryPrimitives.ReadUInt32LittleEndian(packed[4..]), bits = BinaryPrimitives.ReadUInt32LittleEndian(packed[12..]);
        if (first >= Symbols || last >= Symbols || first > last)
        {
            throw new InvalidDataException($"a Huffman table claims the symbols {first} to {last}");
        }

        byte[] lengths = ArrayPool<byte>.Shared.Rent(Symbols);
        int[] sorted = ArrayPool<int>.Shared.Rent(Symbols);
        int[] table = ArrayPool<int>.Shared.Rent(1 << TableBits);
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
            Span<int> counts = stackalloc int[MostBits + 1], starts = stackalloc int[MostBits + 1];
            Prepare(lengths, (int)first, (int)last, bases, counts, starts, sorted, table.AsSpan(0, 1 << TableBits));
            Run(body, bits, (int)last, bases, counts, starts, sorted, table.AsSpan(0, 1 << TableBits), words);
        }
        finally
        {
            ArrayPool<byte>.Shared.Return(lengths);
            ArrayPool<int>.Shared.Return(sorted);
            ArrayPool<int>.Shared.Return(table);
        }
    }

    /// <summary>Reads 6-bit code lengths with runs of zeros; returns the bytes used.</summary>
    private static int ReadLengths(ReadOnlySpan<byte> bytes, byte[] lengths, int first, int last)
    {
        ulong buffer = 0;
        int have = 0, at = 0;
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

        for (int symbol = first; symbol <= last;)
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

    /// <summary>Canonical codes: <paramref name="bases"/>[l] is the first code of length l; symbols of one length stand in ascending order.</summary>
    private static void Prepare(byte[] lengths, int first, int last, Span<ulong> bases, Span<int> counts, Span<int> starts, int[] sorted, Span<int> table)
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

        // An entry is symbol × 64 + length; 0 where a longer code begins, or none.
        table.Clear();
        for (int l = 1; l <= TableBits; l++)
        {
            for (int i = 0; i < counts[l]; i++)
            {
                table.Slice((int)((bases[l] + (ulong)i) << (TableBits - l)), 1 << (TableBits - l)).Fill((sorted[starts[l] + i] << 6) | l);
            }
        }
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static void Run(ReadOnlySpan<byte> body, uint bits, int runCode, ReadOnlySpan<ulong> bases, ReadOnlySpan<int> counts, ReadOnlySpan<int> starts, int[] sorted, ReadOnlySpan<int> table, Span<ushort> words)
    {
        // The buffer's highest bits are the next ones; bits beyond the block's are zeros and are told by their count.
        ulong buffer = 0;
        int have = 0, at = 0, written = 0;
        long left = bits;
        while (left > 0)
        {
            if (have <= 32 && at + 8 <= body.Length)
            {
                buffer |= BinaryPrimitives.ReadUInt64BigEndian(body[at..]) >> have;
                at += (63 - have) >> 3;
                have |= 56;
            }

            while (have <= 56 && at < body.Length && have < MostBits)
            {
                buffer |= (ulong)body[at++] << (56 - have);
                have += 8;
            }

            int entry = table[(int)(buffer >> (64 - TableBits))], length = entry & 63, symbol = entry >> 6;
            if (length == 0)
            {
                (symbol, length) = Long(buffer, bases, counts, starts, sorted);
            }

            if (length > left)
            {
                throw new InvalidDataException("a Huffman block ends inside a code");
            }

            buffer <<= length;
            have -= length;
            left -= length;
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
            if (left < 8 || written == 0 || run > words.Length - written)
            {
                throw new InvalidDataException("a run in a Huffman block goes beyond it");
            }

            buffer <<= 8;
            have -= 8;
            left -= 8;
            words.Slice(written, run).Fill(words[written - 1]);
            written += run;
        }

        if (written != words.Length)
        {
            throw new InvalidDataException($"a Huffman block makes {written} words where {words.Length} belong");
        }
    }

    private static (int Symbol, int Length) Long(ulong buffer, ReadOnlySpan<ulong> bases, ReadOnlySpan<int> counts, ReadOnlySpan<int> starts, int[] sorted)
    {
        for (int l = TableBits + 1; l <= MostBits; l++)
        {
            ulong offset = (buffer >> (64 - l)) - bases[l];
            if (offset < (ulong)counts[l])
            {
                return (sorted[starts[l] + (int)offset], l);
            }
        }

        throw new InvalidDataException("a Huffman block holds a code that is not in its table");
    }

    /// <summary>Encodes words. Returns the bytes written to <paramref name="packed"/>, or −1 when they do not fit.</summary>
    public static int Encode(ReadOnlySpan<ushort> words, Span<byte> packed)
    {
        long[] frequencies = new long[Symbols];
        foreach (ushort word in words)
        {
            frequencies[word]++;
        }

        int first = 0, last = Symbols - 1;
        while (frequencies[first] == 0)
        {
            first++;
        }

        while (frequencies[last] == 0)
        {
            last--;
        }

        int runCode = last + 1;
        frequencies[runCode] = 1;
        byte[] lengths = Lengths(frequencies, first, runCode);
        ulong[] codes = Codes(lengths, first, runCode);
        var writer = new BitWriter(packed, HeaderBytes);
        WriteLengths(ref writer, lengths, first, runCode);
        writer.Align();
        int begin = writer.Bytes;
        long bits = WriteWords(ref writer, words, lengths, codes, runCode);
        if (writer.IsFull)
        {
            return -1;
        }

        BinaryPrimitives.WriteInt32LittleEndian(packed, first);
        BinaryPrimitives.WriteInt32LittleEndian(packed[4..], runCode);
        BinaryPrimitives.WriteInt32LittleEndian(packed[8..], begin - HeaderBytes);
        BinaryPrimitives.WriteInt32LittleEndian(packed[12..], (int)bits);
        BinaryPrimitives.WriteInt32LittleEndian(packed[16..], 0);
        return writer.Bytes;
    }

    /// <summary>Lengths of an optimal code (Huffman 1952), ties broken by symbol so that the same words give the same bytes.</summary>
    private static byte[] Lengths(long[] frequencies, int first, int last)
    {
        int[] used = [.. Enumerable.Range(first, last - first + 1).Where(s => frequencies[s] > 0)];
        byte[] lengths = new byte[Symbols];
        if (used.Length == 1)
        {
            lengths[used[0]] = 1;
            return lengths;
        }

        var queue = new PriorityQueue<int, (long, int)>(used.Select((s, i) => (i, (frequencies[s], i))));
        int[] parents = new int[2 * used.Length - 1];
        long[] weights = [.. used.Select(s => frequencies[s]), .. new long[used.Length - 1]];
        for (int node = used.Length; node < parents.Length; node++)
        {
            int a = queue.Dequeue(), b = queue.Dequeue();
            (parents[a], parents[b]) = (node, node);
            weights[node] = weights[a] + weights[b];
            queue.Enqueue(node, (weights[node], node));
        }

        int[] depths = new int[parents.Length];
        for (int node = parents.Length - 2; node >= 0; node--)
        {
            depths[node] = depths[parents[node]] + 1;
            if (node < used.Length)
            {
                lengths[used[node]] = checked((byte)depths[node]);
            }
        }

        return lengths;
    }

    private static ulong[] Codes(byte[] lengths, int first, int last)
    {
        ulong[] next = new ulong[MostBits + 1], codes = new ulong[Symbols];
        int[] counts = new int[MostBits + 1];
        for (int s = first; s <= last; s++)
        {
            counts[lengths[s]]++;
        }

        ulong code = 0;
        for (int l = MostBits; l > 0; l--)
        {
            next[l] = code;
            code = (code + (ulong)counts[l]) >> 1;
        }

        for (int s = first; s <= last; s++)
        {
            codes[s] = lengths[s] > 0 ? next[lengths[s]]++ : 0;
        }

        return codes;
    }

    private static void WriteLengths(ref BitWriter writer, byte[] lengths, int first, int last)
    {
        for (int s = first; s <= last; s++)
        {
            int zeros = 0;
            while (lengths[s + zeros] == 0 && zeros < LongestLongRun && s + zeros < last)
            {
                zeros++;
            }

            if (zeros >= ShortestLongRun)
            {
                writer.Write(LongZeroRun, 6);
                writer.Write((ulong)(zeros - ShortestLongRun), 8);
            }
            else if (zeros >= 2)
            {
                writer.Write((ulong)(ShortZeroRun + zeros - 2), 6);
            }
            else
            {
                writer.Write(lengths[s], 6);
                continue;
            }

            s += zeros - 1;
        }
    }

    private static long WriteWords(ref BitWriter writer, ReadOnlySpan<ushort> words, byte[] lengths, ulong[] codes, int runCode)
    {
        long bits = 0;
        for (int i = 0; i < words.Length;)
        {
            ushort word = words[i];
            int run = 1;
            while (i + run < words.Length && run <= 255 && words[i + run] == word)
            {
                run++;
            }

            // The word once, then either a run of it or the word again as often.
            int repeats = run - 1;
            bool isShorter = lengths[word] + lengths[runCode] + 8 < lengths[word] * run;
            writer.Write(codes[word], lengths[word]);
            bits += lengths[word];
            if (isShorter)
            {
                writer.Write(codes[runCode], lengths[runCode]);
                writer.Write((ulong)repeats, 8);
                bits += lengths[runCode] + 8;
            }
            else
            {
                for (int k = 0; k < repeats; k++)
                {
                    writer.Write(codes[word], lengths[word]);
                    bits += lengths[word];
                }
            }

            i += run;
        }

        writer.Align();
        return bits;
    }

    /// <summary>Writes bits, highest first; beyond the end it only remembers that it was full.</summary>
    private ref struct BitWriter(Span<byte> to, int at)
    {
        private readonly Span<byte> _to = to;
        private ulong _buffer;
        private int _have;

        public int Bytes { get; private set; } = at;

        public bool IsFull { get; private set; }

        public void Write(ulong value, int count)
        {
            // At most 58 bits come at once, in two goes when they do not fit beside what is there.
            if (count > 32)
            {
                Write(value >> 32, count - 32);
                (value, count) = (value & 0xffffffff, 32);
            }

            _buffer = (_buffer << count) | value;
            _have += count;
            while (_have >= 8)
            {
                _have -= 8;
                Put((byte)(_buffer >> _have));
            }
        }

        public void Align()
        {
            if (_have > 0)
            {
                Put((byte)(_buffer << (8 - _have)));
                _have = 0;
            }
        }

        private void Put(byte value)
        {
            if (Bytes < _to.Length)
            {
                _to[Bytes++] = value;
            }
            else
            {
                IsFull = true;
            }
        }
    }
}
