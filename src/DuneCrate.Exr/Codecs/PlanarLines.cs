using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;

namespace DuneCrate.Exr.Codecs;

/// <summary>
/// Goes between the two arrangements of a chunk: lines with the channels side by side, as files and readers have it, and channel after
/// channel, each with all its lines,
/// as PIZ, B44 and DWA pack it.
/// </summary>
internal static class PlanarLines
{
    /// <summary>Byte offset of each channel in the arrangement channel after channel.</summary>
    public static int[] Offsets(in ExrChunkShape shape)
    {
        int[] offsets = new int[shape.Part.Channels.Length];
        for (int c = 1; c < offsets.Length; c++)
        {
            offsets[c] = offsets[c - 1] + shape.LineBytes(c - 1) * shape.LinesOf(c - 1);
        }

        return offsets;
    }

    /// <summary>Channel after channel to lines; with a <paramref name="table"/> of 65,536 values, every 16-bit word by its entry.</summary>
    public static void ToLines(ReadOnlySpan<byte> planar, Span<byte> lines, in ExrChunkShape shape, ushort[]? table = null)
    {
        int[] at = Offsets(shape);
        int to = 0;
        for (int y = shape.Box.MinY; y <= shape.Box.MaxY; y++)
        {
            for (int c = 0; c < at.Length; c++)
            {
                if (shape.Has(c, y))
                {
                    int bytes = shape.LineBytes(c);
                    if (table is null)
                    {
                        planar.Slice(at[c], bytes).CopyTo(lines[to..]);
                    }
                    else
                    {
                        LookUp(
                            MemoryMarshal.Cast<byte, ushort>(planar.Slice(at[c], bytes)),
                            MemoryMarshal.Cast<byte, ushort>(lines.Slice(to, bytes)),
                            table
                        );
                    }

                    at[c] += bytes;
                    to += bytes;
                }
            }
        }
    }

    /// <summary>Lines to channel after channel.</summary>
    public static void FromLines(ReadOnlySpan<byte> lines, Span<byte> planar, in ExrChunkShape shape)
    {
        int[] at = Offsets(shape);
        int from = 0;
        for (int y = shape.Box.MinY; y <= shape.Box.MaxY; y++)
        {
            for (int c = 0; c < at.Length; c++)
            {
                if (shape.Has(c, y))
                {
                    int bytes = shape.LineBytes(c);
                    lines.Slice(from, bytes).CopyTo(planar[at[c]..]);
                    at[c] += bytes;
                    from += bytes;
                }
            }
        }
    }

    /// <summary>Hands all planes on that are wanted.</summary>
    public static void Hand(ReadOnlySpan<byte> planes, in ExrChunkShape shape, IPlaneSink sink)
    {
        int[] at = Offsets(shape);
        for (int c = 0; c < at.Length; c++)
        {
            if (sink.Wants(c))
            {
                sink.Take(c, planes.Slice(at[c], shape.LineBytes(c) * shape.LinesOf(c)));
            }
        }
    }

    /// <summary>Each word's entry in a table of 65,536. Both spans may be the same.</summary>
    public static void LookUp(ReadOnlySpan<ushort> words, Span<ushort> to, ushort[] table)
    {
        ref ushort entries = ref MemoryMarshal.GetReference(table.AsSpan(0, ushort.MaxValue + 1));
        to = to[..words.Length];
        for (int i = 0; i < words.Length; i++)
        {
            to[i] = Unsafe.Add(ref entries, (nint)words[i]);
        }
    }
}
