using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;

namespace DuneCrate.Core.Images.Exr.Codecs;

/// <summary>
/// The reordering that RLE and ZIP share: bytes at even places first, then those at odd places, and each byte replaced by its
/// difference to the one before plus 128. Source: <em>OpenEXR File Layout</em> and <em>Technical Introduction to OpenEXR</em>, data compression.
/// </summary>
internal static class BytePrediction
{
    /// <summary>Turns lines into halves of differences.</summary>
    public static void Split(ReadOnlySpan<byte> lines, Span<byte> halves)
    {
        int second = (lines.Length + 1) / 2;
        for (int i = 0; i < lines.Length; i++)
        {
            halves[(i & 1) * second + i / 2] = lines[i];
        }

        int previous = halves.Length > 0 ? halves[0] : 0;
        for (int i = 1; i < halves.Length; i++)
        {
            int value = halves[i];
            halves[i] = (byte)(value - previous + 128);
            previous = value;
        }
    }

    /// <summary>Turns halves of differences back into lines. <paramref name="halves"/> is used up.</summary>
    public static void Join(Span<byte> halves, Span<byte> lines)
    {
        Sum(halves);
        int second = (lines.Length + 1) / 2, pairs = lines.Length / 2, i = 0;
        ref byte even = ref MemoryMarshal.GetReference(halves), odd = ref Unsafe.Add(ref even, second), to = ref MemoryMarshal.GetReference(lines);
        for (; i + Vector128<byte>.Count <= pairs; i += Vector128<byte>.Count)
        {
            Vector128<byte> e = Vector128.LoadUnsafe(ref even, (nuint)i), o = Vector128.LoadUnsafe(ref odd, (nuint)i);
            Interleave(e, o, lower: true).StoreUnsafe(ref to, (nuint)(2 * i));
            Interleave(e, o, lower: false).StoreUnsafe(ref to, (nuint)(2 * i + 16));
        }

        for (; i < pairs; i++)
        {
            lines[2 * i] = halves[i];
            lines[2 * i + 1] = halves[second + i];
        }

        if ((lines.Length & 1) != 0)
        {
            lines[^1] = halves[second - 1];
        }
    }

    /// <summary>Even bytes widened to the low byte of 16-bit lanes, odd bytes to the high one.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Vector128<byte> Interleave(Vector128<byte> even, Vector128<byte> odd, bool lower)
    {
        Vector128<ushort> e = lower ? Vector128.WidenLower(even) : Vector128.WidenUpper(even);
        Vector128<ushort> o = lower ? Vector128.WidenLower(odd) : Vector128.WidenUpper(odd);
        return (e | (o << 8)).AsByte();
    }

    /// <summary>
    /// Running sum of (byte − 128) with the first byte as it is; 16 bytes a step by log-step prefix sums.
    /// Adding 128 and subtracting it are the same modulo 256, and equal to flipping the top bit.
    /// </summary>
    private static void Sum(Span<byte> bytes)
    {
        if (bytes.IsEmpty)
        {
            return;
        }

        bytes[0] ^= 0x80;
        ref byte at = ref MemoryMarshal.GetReference(bytes);
        Vector128<byte> carry = Vector128<byte>.Zero, flip = Vector128.Create((byte)0x80), last = Vector128.Create((byte)15);
        int i = 0;
        for (; i + 16 <= bytes.Length; i += 16)
        {
            Vector128<byte> v = Vector128.LoadUnsafe(ref at, (nuint)i) ^ flip;
            v += Vector128.Shuffle(v, Vector128.Create(255, 0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14));
            v += Vector128.Shuffle(v, Vector128.Create(255, 255, 0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13));
            v += Vector128.Shuffle(v, Vector128.Create(255, 255, 255, 255, 0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11));
            v += Vector128.Shuffle(v, Vector128.Create(255, 255, 255, 255, 255, 255, 255, 255, 0, 1, 2, 3, 4, 5, 6, 7));
            v += carry;
            v.StoreUnsafe(ref at, (nuint)i);
            carry = Vector128.Shuffle(v, last);
        }

        byte sum = carry[0];
        for (; i < bytes.Length; i++)
        {
            sum += (byte)(bytes[i] ^ 0x80);
            bytes[i] = sum;
        }
    }
}
