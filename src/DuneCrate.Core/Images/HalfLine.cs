using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;

namespace DuneCrate.Core.Images;

/// <summary>Converts lines of IEEE 754 binary16 samples to binary32, sixteen at a time. Exact; NaN stays NaN. Benchmark: bench/pixel-check.</summary>
internal static class HalfLine
{
    private const uint ExponentShift = 112u << 23, Least = 113u << 23;
    private const int LeastNormal = 0x0400;

    /// <summary>Converts all samples; <paramref name="floats"/> has as many.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static void ToFloats(ReadOnlySpan<ushort> halves, Span<float> floats)
    {
        floats = floats[..halves.Length];
        ref ushort from = ref MemoryMarshal.GetReference(halves);
        ref uint to = ref MemoryMarshal.GetReference(MemoryMarshal.Cast<float, uint>(floats));
        int i = 0;
        for (; i <= halves.Length - Vector256<ushort>.Count; i += Vector256<ushort>.Count)
        {
            // Nothing but zeros, or nothing but normal numbers, whose bits only have to move.
            var some = Vector256.LoadUnsafe(ref from, (nuint)i);
            if (some == Vector256<ushort>.Zero)
            {
                Vector256<uint>.Zero.StoreUnsafe(ref to, (nuint)i);
                Vector256<uint>.Zero.StoreUnsafe(ref to, (nuint)(i + Vector256<uint>.Count));
                continue;
            }

            Vector256<ushort> size = some & Vector256.Create((ushort)0x7fff);
            if (Vector256.LessThanAll(size - Vector256.Create((ushort)LeastNormal), Vector256.Create((ushort)(0x7c00 - LeastNormal))))
            {
                Moved(Vector256.WidenLower(some.AsInt16())).StoreUnsafe(ref to, (nuint)i);
                Moved(Vector256.WidenUpper(some.AsInt16())).StoreUnsafe(ref to, (nuint)(i + Vector256<uint>.Count));
                continue;
            }

            (Vector256<uint> low, Vector256<uint> high) = Vector256.Widen(some);
            Widened(low).StoreUnsafe(ref to, (nuint)i);
            Widened(high).StoreUnsafe(ref to, (nuint)(i + Vector256<uint>.Count));
        }

        for (; i < halves.Length; i++)
        {
            floats[i] = (float)BitConverter.UInt16BitsToHalf(halves[i]);
        }
    }

    /// <summary>Normal halves, each with its sign repeated above it: sign and magnitude to their places, the exponent to its new bias.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Vector256<uint> Moved(Vector256<int> half) => ((half << 13) & Vector256.Create(unchecked((int)0x8fffe000))).AsUInt32() + Vector256.Create(ExponentShift);

    /// <summary>
    /// Moves sign, exponent and mantissa to their places. Numbers too small for a normal half are made by subtracting from a power of two, which lets
    /// the adder normalise them; the exponent of infinities and NaNs is raised twice.
    /// </summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Vector256<uint> Widened(Vector256<uint> half)
    {
        Vector256<uint> magnitude = half & Vector256.Create(0x7fffu), shifted = magnitude << 13;
        Vector256<uint> special = Vector256.GreaterThan(magnitude.AsInt32(), Vector256.Create(0x7bff)).AsUInt32() & Vector256.Create(ExponentShift);
        Vector256<uint> normal = shifted + Vector256.Create(ExponentShift) + special;
        Vector256<uint> small = ((shifted + Vector256.Create(Least)).AsSingle() - Vector256.Create(Least).AsSingle()).AsUInt32();
        Vector256<uint> isSmall = Vector256.LessThan(magnitude.AsInt32(), Vector256.Create(0x400)).AsUInt32();
        return Vector256.ConditionalSelect(isSmall, small, normal) | ((half & Vector256.Create(0x8000u)) << 16);
    }
}
