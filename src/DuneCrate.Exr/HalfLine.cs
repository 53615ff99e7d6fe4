using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;
using System.Runtime.Intrinsics.X86;

namespace DuneCrate.Exr;

/// <summary>Converts lines between IEEE 754 binary16 and binary32, sixteen at a time. NaN stays NaN. Benchmark: bench/run pixels.</summary>
public static class HalfLine
{
    private const uint ExponentShift = 112u << 23,
        Least = 113u << 23;
    private const int LeastNormal = 0x0400;

    /// <summary>Converts all samples, exactly; <paramref name="floats"/> has as many.</summary>
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
            floats[i] = One(halves[i]);
        }
    }

    /// <summary>Converts one sample, exactly.</summary>
    public static float One(ushort half) => (float)BitConverter.UInt16BitsToHalf(half);

    /// <summary>Converts eight samples, exactly.</summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    public static Vector256<float> Eight(Vector128<ushort> some)
    {
        if (some == Vector128<ushort>.Zero)
        {
            return Vector256<float>.Zero;
        }

        Vector128<ushort> size = some & Vector128.Create((ushort)0x7fff);
        return Vector128.LessThanAll(size - Vector128.Create((ushort)LeastNormal), Vector128.Create((ushort)(0x7c00 - LeastNormal)))
            ? Moved(Signed(some)).AsSingle()
            : Widened(Signed(some).AsUInt32() & Vector256.Create(0xffffu)).AsSingle();
    }

    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Vector256<int> Signed(Vector128<ushort> some) =>
        Avx2.IsSupported
            ? Avx2.ConvertToVector256Int32(some.AsInt16())
            : Vector256.Create(Vector128.WidenLower(some.AsInt16()), Vector128.WidenUpper(some.AsInt16()));

    /// <summary>
    /// Normal halves, each with its sign repeated above it: sign and magnitude to their places, the exponent to its new bias.
    /// </summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Vector256<uint> Moved(Vector256<int> half) =>
        ((half << 13) & Vector256.Create(unchecked((int)0x8fffe000))).AsUInt32() + Vector256.Create(ExponentShift);

    /// <summary>
    /// Moves sign, exponent and mantissa to their places. Numbers too small for a normal half are made by subtracting from a power of two,
    /// which lets
    /// the adder normalise them; the exponent of infinities and NaNs is raised twice.
    /// </summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Vector256<uint> Widened(Vector256<uint> half)
    {
        Vector256<uint> magnitude = half & Vector256.Create(0x7fffu),
            shifted = magnitude << 13;
        Vector256<uint> special =
            Vector256.GreaterThan(magnitude.AsInt32(), Vector256.Create(0x7bff)).AsUInt32() & Vector256.Create(ExponentShift);
        Vector256<uint> normal = shifted + Vector256.Create(ExponentShift) + special;
        Vector256<uint> small = ((shifted + Vector256.Create(Least)).AsSingle() - Vector256.Create(Least).AsSingle()).AsUInt32();
        Vector256<uint> isSmall = Vector256.LessThan(magnitude.AsInt32(), Vector256.Create(0x400)).AsUInt32();
        return Vector256.ConditionalSelect(isSmall, small, normal) | ((half & Vector256.Create(0x8000u)) << 16);
    }

    /// <summary>Converts all samples, rounding to nearest even; <paramref name="halves"/> has as many.</summary>
    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    public static void FromFloats(ReadOnlySpan<float> floats, Span<ushort> halves)
    {
        halves = halves[..floats.Length];
        ref float from = ref MemoryMarshal.GetReference(floats);
        ref ushort to = ref MemoryMarshal.GetReference(halves);
        int i = 0;
        for (; i <= floats.Length - Vector256<ushort>.Count; i += Vector256<ushort>.Count)
        {
            Vector256<uint> low = Narrowed(Vector256.LoadUnsafe(ref from, (nuint)i)),
                high = Narrowed(Vector256.LoadUnsafe(ref from, (nuint)(i + Vector256<float>.Count)));
            Vector256.Narrow(low, high).StoreUnsafe(ref to, (nuint)i);
        }

        for (; i < floats.Length; i++)
        {
            halves[i] = BitConverter.HalfToUInt16Bits((Half)floats[i]);
        }
    }

    /// <summary>
    /// Adds just below half a step, or half of one where the last bit that stays is odd, and cuts off; numbers too small for a normal half
    /// are rounded by adding 0.5, whose
    /// steps are those of the smallest halves.
    /// </summary>
    [MethodImpl(MethodImplOptions.AggressiveInlining)]
    private static Vector256<uint> Narrowed(Vector256<float> value)
    {
        const uint Infinity = 0x7f800000,
            TooLarge = 143u << 23;
        Vector256<uint> sign = value.AsUInt32() & Vector256.Create(0x80000000),
            size = value.AsUInt32() ^ sign;
        Vector256<uint> normal =
            (size - Vector256.Create(ExponentShift) + Vector256.Create(0x0fffu) + ((size >> 13) & Vector256<uint>.One)) >> 13;
        Vector256<uint> small = (size.AsSingle() + Vector256.Create(0.5f)).AsUInt32() - Vector256.Create(0.5f).AsUInt32();
        Vector256<uint> large = Vector256.ConditionalSelect(
            Vector256.GreaterThan(size.AsInt32(), Vector256.Create((int)Infinity)).AsUInt32(),
            Vector256.Create(0x7e00u),
            Vector256.Create(0x7c00u)
        );
        Vector256<uint> half = Vector256.ConditionalSelect(
            Vector256.LessThan(size.AsInt32(), Vector256.Create((int)Least)).AsUInt32(),
            small,
            normal
        );
        return Vector256.ConditionalSelect(Vector256.LessThan(size.AsInt32(), Vector256.Create((int)TooLarge)).AsUInt32(), half, large)
            | (sign >> 16);
    }
}
