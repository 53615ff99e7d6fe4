using System.Buffers.Binary;

namespace DuneCrate.Exr.Codecs;

/// <summary>Writes the code that <see cref="Huffman16Decoder"/> reads.</summary>
internal static class Huffman16Encoder
{
    private const int HeaderBytes = Huffman16Decoder.HeaderBytes,
        MostBits = Huffman16Decoder.MostBits,
        Symbols = Huffman16Decoder.Symbols;
    private const int ShortZeroRun = Huffman16Decoder.ShortZeroRun,
        LongZeroRun = Huffman16Decoder.LongZeroRun;
    private const int ShortestLongRun = Huffman16Decoder.ShortestLongRun,
        LongestLongRun = 255 + ShortestLongRun;

    /// <summary>Encodes words. Returns the bytes written to <paramref name="packed"/>, or −1 when they do not fit.</summary>
    public static int Encode(ReadOnlySpan<ushort> words, Span<byte> packed)
    {
        long[] frequencies = new long[Symbols];
        foreach (ushort word in words)
        {
            frequencies[word]++;
        }

        int first = 0,
            last = Symbols - 1;
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
            int a = queue.Dequeue(),
                b = queue.Dequeue();
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
        ulong[] next = new ulong[MostBits + 1],
            codes = new ulong[Symbols];
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
        for (int i = 0; i < words.Length; )
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
