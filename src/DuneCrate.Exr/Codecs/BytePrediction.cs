using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;
using System.Runtime.Intrinsics.X86;

namespace DuneCrate.Exr.Codecs;

/// <summary>
/// The reordering that RLE and ZIP share: bytes at even places first, then those at odd places, and each byte replaced by its
/// difference to the one before plus 128. Source: <em>OpenEXR File Layout</em> and <em>Technical Introduction to OpenEXR</em>, data
/// compression.
/// </summary>
internal static class BytePrediction
{
    /// <summary>The value that the first difference is added to.</summary>
    public const byte Start = Flip;

    private const byte Flip = 0x80;

    /// <summary>Turns lines into halves of differences.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static void Split(ReadOnlySpan<byte> lines, Span<byte> halves)
    {
        int second = (lines.Length + 1) / 2,
            i = SplitPairs(lines, halves, second);
        for (; i < lines.Length; i++)
        {
            halves[(i & 1) * second + i / 2] = lines[i];
        }

        // From the end, so that each byte still has the one before it as it was.
        Vector256<byte> flip = Vector256.Create(Flip);
        ref byte half = ref MemoryMarshal.GetReference(halves);
        i = lines.Length;
        for (; i > Vector256<byte>.Count; i -= Vector256<byte>.Count)
        {
            nuint at = (nuint)(i - Vector256<byte>.Count);
            (Vector256.LoadUnsafe(ref half, at) - Vector256.LoadUnsafe(ref half, at - 1) + flip).StoreUnsafe(ref half, at);
        }

        for (i--; i > 0; i--)
        {
            halves[i] = (byte)(halves[i] - halves[i - 1] + Flip);
        }
    }

    /// <summary>Takes apart as many bytes as fill whole vectors; returns how many.</summary>
    private static int SplitPairs(ReadOnlySpan<byte> lines, Span<byte> halves, int second)
    {
        Vector256<ushort> low = Vector256.Create((ushort)0xff);
        ref byte from = ref MemoryMarshal.GetReference(lines);
        ref byte to = ref MemoryMarshal.GetReference(halves);
        int i = 0;
        for (; i <= lines.Length - 2 * Vector256<byte>.Count; i += 2 * Vector256<byte>.Count)
        {
            Vector256<ushort> one = Vector256.LoadUnsafe(ref from, (nuint)i).AsUInt16(),
                two = Vector256.LoadUnsafe(ref from, (nuint)(i + Vector256<byte>.Count)).AsUInt16();
            Vector256.Narrow(one & low, two & low).StoreUnsafe(ref to, (nuint)(i / 2));
            Vector256.Narrow(one >>> 8, two >>> 8).StoreUnsafe(ref to, (nuint)(second + i / 2));
        }

        return i;
    }

    /// <summary>
    /// Turns halves of differences back into lines: running sums of (byte − 128), with the first byte as it is. Both halves are summed at
    /// once, the second from the
    /// total of the first on. Adding 128 and subtracting it are the same modulo 256, and equal to flipping the top bit.
    /// </summary>
    public static void Join(ReadOnlySpan<byte> halves, Span<byte> lines)
    {
        if (lines.IsEmpty)
        {
            return;
        }

        int second = (lines.Length + 1) / 2,
            pairs = lines.Length / 2;
        byte odd = (byte)(Start + Total(halves[..second])),
            last = Join(halves[..pairs], halves.Slice(second, pairs), Start, odd, lines[..(2 * pairs)]);
        if ((lines.Length & 1) != 0)
        {
            lines[^1] = (byte)(last + (halves[second - 1] ^ Flip));
        }
    }

    /// <summary>Running sums of two rows of differences, interleaved; returns the last value of the first row.</summary>
    /// <param name="evens">Differences of the bytes at even places.</param>
    /// <param name="odds">Differences of the bytes at odd places, as many.</param>
    /// <param name="even">The value before the first even one.</param>
    /// <param name="odd">The value before the first odd one.</param>
    /// <param name="lines">Gets twice as many bytes.</param>
    public static byte Join(ReadOnlySpan<byte> evens, ReadOnlySpan<byte> odds, byte even, byte odd, Span<byte> lines)
    {
        int done =
            Avx2.IsSupported ? JoinPairs(evens, odds, lines, ref even, ref odd)
            : Vector128.IsHardwareAccelerated ? JoinFewer(evens, odds, lines, ref even, ref odd)
            : 0;
        for (int i = done; i < evens.Length; i++)
        {
            even += (byte)(evens[i] ^ Flip);
            odd += (byte)(odds[i] ^ Flip);
            (lines[2 * i], lines[2 * i + 1]) = (even, odd);
        }

        return even;
    }

    /// <summary>Sum of (byte − 128), modulo 256.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static byte Total(ReadOnlySpan<byte> bytes)
    {
        Vector256<byte> sums = Vector256<byte>.Zero,
            flip = Vector256.Create(Flip);
        ref byte at = ref MemoryMarshal.GetReference(bytes);
        int i = 0;
        for (; i <= bytes.Length - Vector256<byte>.Count; i += Vector256<byte>.Count)
        {
            sums += Vector256.LoadUnsafe(ref at, (nuint)i) ^ flip;
        }

        byte total = Vector256.Sum(sums);
        for (; i < bytes.Length; i++)
        {
            total += (byte)(bytes[i] ^ Flip);
        }

        return total;
    }

    /// <summary>The pairs that fill whole vectors, 32 at a time; returns how many, and leaves the running sums behind them.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static int JoinPairs(
        ReadOnlySpan<byte> evenBytes,
        ReadOnlySpan<byte> oddBytes,
        Span<byte> lines,
        ref byte evenSum,
        ref byte oddSum
    )
    {
        int pairs = evenBytes.Length;
        ref byte evens = ref MemoryMarshal.GetReference(evenBytes),
            odds = ref MemoryMarshal.GetReference(oddBytes),
            to = ref MemoryMarshal.GetReference(lines);
        Vector256<byte> even = Vector256.Create(evenSum),
            odd = Vector256.Create(oddSum),
            flip = Vector256.Create(Flip);
        int i = 0;
        for (; i <= pairs - Vector256<byte>.Count; i += Vector256<byte>.Count)
        {
            Vector256<byte> e = RunningSum(Vector256.LoadUnsafe(ref evens, (nuint)i) ^ flip),
                o = RunningSum(Vector256.LoadUnsafe(ref odds, (nuint)i) ^ flip);
            Vector256<byte> nextEven = even + Last(e),
                nextOdd = odd + Last(o);
            (e, o) = (e + even, o + odd);
            (even, odd) = (nextEven, nextOdd);
            Vector256<byte> low = Avx2.UnpackLow(e, o),
                high = Avx2.UnpackHigh(e, o);
            Avx2.Permute2x128(low, high, 0x20).StoreUnsafe(ref to, (nuint)(2 * i));
            Avx2.Permute2x128(low, high, 0x31).StoreUnsafe(ref to, (nuint)(2 * i + Vector256<byte>.Count));
        }

        (evenSum, oddSum) = (even[0], odd[0]);
        return i;
    }

    /// <summary>
    /// Running sums inside a vector, by log-step shifts in each half of it and the lower half's total added to the upper.
    /// </summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Vector256<byte> RunningSum(Vector256<byte> v)
    {
        v += Avx2.ShiftLeftLogical128BitLane(v, 1);
        v += Avx2.ShiftLeftLogical128BitLane(v, 2);
        v += Avx2.ShiftLeftLogical128BitLane(v, 4);
        v += Avx2.ShiftLeftLogical128BitLane(v, 8);
        return v + Avx2.Shuffle(Avx2.Permute2x128(v, v, 0x08), Vector256.Create((byte)15));
    }

    /// <summary>The last byte in every place.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Vector256<byte> Last(Vector256<byte> v) => Avx2.Shuffle(Avx2.Permute2x128(v, v, 0x11), Vector256.Create((byte)15));

    /// <summary>The same as <see cref="JoinPairs"/> by vectors of 16, for processors without AVX2 such as arm64.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private static int JoinFewer(
        ReadOnlySpan<byte> evenBytes,
        ReadOnlySpan<byte> oddBytes,
        Span<byte> lines,
        ref byte evenSum,
        ref byte oddSum
    )
    {
        int pairs = evenBytes.Length;
        ref byte evens = ref MemoryMarshal.GetReference(evenBytes),
            odds = ref MemoryMarshal.GetReference(oddBytes),
            to = ref MemoryMarshal.GetReference(lines);
        Vector128<byte> even = Vector128.Create(evenSum),
            odd = Vector128.Create(oddSum),
            flip = Vector128.Create(Flip);
        int i = 0;
        for (; i <= pairs - Vector128<byte>.Count; i += Vector128<byte>.Count)
        {
            Vector128<byte> e = even + RunningSum(Vector128.LoadUnsafe(ref evens, (nuint)i) ^ flip),
                o = odd + RunningSum(Vector128.LoadUnsafe(ref odds, (nuint)i) ^ flip);
            (even, odd) = (Last(e), Last(o));
            (Vector128.WidenLower(e) | (Vector128.WidenLower(o) << 8)).AsByte().StoreUnsafe(ref to, (nuint)(2 * i));
            (Vector128.WidenUpper(e) | (Vector128.WidenUpper(o) << 8)).AsByte().StoreUnsafe(ref to, (nuint)(2 * i + Vector128<byte>.Count));
        }

        (evenSum, oddSum) = (even[0], odd[0]);
        return i;
    }

    /// <summary>Running sums inside a vector, by log-step shifts; places that no vector has give 0.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Vector128<byte> RunningSum(Vector128<byte> v)
    {
        const byte No = 255;
        v += Vector128.Shuffle(v, Vector128.Create(No, 0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14));
        v += Vector128.Shuffle(v, Vector128.Create(No, No, 0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13));
        v += Vector128.Shuffle(v, Vector128.Create(No, No, No, No, 0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11));
        return v + Vector128.Shuffle(v, Vector128.Create(No, No, No, No, No, No, No, No, 0, 1, 2, 3, 4, 5, 6, 7));
    }

    /// <summary>The last byte in every place.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Vector128<byte> Last(Vector128<byte> v) => Vector128.Shuffle(v, Vector128.Create((byte)15));
}
