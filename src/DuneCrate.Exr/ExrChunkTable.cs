using System.Buffers.Binary;

namespace DuneCrate.Exr;

/// <summary>
/// Where the chunks of a file are. A table that was never finished (zeros, or offsets that cannot be) is made whole again by walking the
/// chunks one after
/// the other, as they say themselves which they are. Source: <em>OpenEXR File Layout</em>, offset tables.
/// </summary>
internal static class ExrChunkTable
{
    private const int ScanLineHead = 8,
        TileHead = 20,
        DeepScanLineHead = 28,
        DeepTileHead = 40,
        PartNumberBytes = 4;

    /// <summary>
    /// Goes through a file's chunks from <paramref name="at"/> on and notes each in the tables where there is no usable offset. Stops at
    /// the first thing that
    /// is no chunk. Returns how many entries it mended.
    /// </summary>
    public static int Mend(
        IReadOnlyList<ExrPart> parts,
        long[][] tables,
        bool isMultiPart,
        long at,
        long length,
        Func<long, Span<byte>, int> read
    )
    {
        Span<byte> head = stackalloc byte[PartNumberBytes + DeepTileHead];
        int mended = 0;
        while (at < length)
        {
            int have = read(at, head[..(int)Math.Min(head.Length, length - at)]);
            if (Parse(parts, isMultiPart, head[..have]) is not { } found || found.Bytes > length - at)
            {
                break;
            }

            ref long entry = ref tables[found.Part][found.Index];
            if (entry != at && !IsUsable(entry, length))
            {
                entry = at;
                mended++;
            }

            at += found.Bytes;
        }

        return mended;
    }

    /// <summary>Whether an offset can be one: after the tables' beginning and inside the file.</summary>
    public static bool IsUsable(long offset, long length, long tablesEnd = 8) => offset >= tablesEnd && offset < length;

    /// <summary>Bytes of a chunk's own head, its part number included.</summary>
    public static int HeadBytes(ExrPart part, bool isMultiPart) =>
        (isMultiPart ? PartNumberBytes : 0)
        + (part.IsDeep, part.Tiling is not null) switch
        {
            (false, false) => ScanLineHead,
            (false, true) => TileHead,
            (true, false) => DeepScanLineHead,
            _ => DeepTileHead,
        };

    /// <summary>
    /// What a chunk's head says: its part, its index there, and all its bytes with the head; null when it says nothing possible.
    /// </summary>
    private static (int Part, int Index, long Bytes)? Parse(IReadOnlyList<ExrPart> parts, bool isMultiPart, ReadOnlySpan<byte> head)
    {
        int number = isMultiPart
            ? head.Length >= PartNumberBytes
                ? BinaryPrimitives.ReadInt32LittleEndian(head)
                : -1
            : 0;
        if (number < 0 || number >= parts.Count)
        {
            return null;
        }

        ExrPart part = parts[number];
        int size = HeadBytes(part, isMultiPart);
        if (head.Length < size)
        {
            return null;
        }

        ReadOnlySpan<byte> rest = head[(isMultiPart ? PartNumberBytes : 0)..size];
        int Int(ReadOnlySpan<byte> from, int word) => BinaryPrimitives.ReadInt32LittleEndian(from[(4 * word)..]);
        int index = part.Tiling is not null
            ? part.Chunks.IndexOf(Int(rest, 0), Int(rest, 1), Int(rest, 2), Int(rest, 3))
            : part.Chunks.IndexOfLine(Int(rest, 0));
        int after = part.Tiling is not null ? 16 : 4;
        long packed = part.IsDeep
            ? BinaryPrimitives.ReadInt64LittleEndian(rest[after..]) is >= 0 and < int.MaxValue and var counts
            && BinaryPrimitives.ReadInt64LittleEndian(rest[(after + 8)..]) is >= 0 and < int.MaxValue and var data
                ? counts + data
                : -1
            : BinaryPrimitives.ReadInt32LittleEndian(rest[after..]);
        return index < 0 || packed < 0 ? null : (number, index, size + packed);
    }
}
