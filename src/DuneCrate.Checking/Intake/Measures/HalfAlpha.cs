using System.Numerics;
using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;
using DuneCrate.Exr;
using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Checking.Intake.Measures;

/// <summary>
/// How colour goes with alpha where all channels are halves: sixteen pixels at once on the samples as they are stored, as floats only where
/// it matters. Positive halves are in the order of their bits. Benchmark: bench/run pixels.
/// </summary>
internal sealed class HalfAlpha(int[] colour, int alpha, int[][] glow) : AlphaMeasure(colour, alpha, glow)
{
    /// <summary>The largest half that is not lit, and those that end what is soft.</summary>
    private static readonly short NotLit = Below(SoftAlpha.Lit, isIncluded: true),
        NotSoft = Below(SoftAlpha.SoftFrom, isIncluded: true),
        LastSoft = Below(SoftAlpha.SoftTo, isIncluded: false);

    /// <summary>Negative infinity; numbers above it and below 0 are NaN.</summary>
    private const short Least = unchecked((short)0xfc00);

    public override IEnumerable<int> Needs => [];

    public override void AddBand(in ScanBand band, ChannelStatistics[] statistics)
    {
        for (int row = 0; row < band.Height; row++)
        {
            AddRow(band, row);
        }
    }

    [MethodImpl(MethodImplOptions.AggressiveOptimization)]
    private void AddRow(in ScanBand band, int row)
    {
        ReadOnlySpan<ushort> cover = band.Halves(Alpha, row),
            red = band.Halves(Colour[0], row),
            green = band.Halves(Colour[1], row),
            blue = band.Halves(Colour[2], row);
        ref short a = ref Unsafe.As<ushort, short>(ref MemoryMarshal.GetReference(cover));
        ref short r = ref Unsafe.As<ushort, short>(ref MemoryMarshal.GetReference(red));
        ref short g = ref Unsafe.As<ushort, short>(ref MemoryMarshal.GetReference(green));
        ref short b = ref Unsafe.As<ushort, short>(ref MemoryMarshal.GetReference(blue));
        Vector256<short> lit = Vector256.Create(NotLit);
        int x = 0;
        for (; x <= cover.Length - Vector256<short>.Count; x += Vector256<short>.Count)
        {
            var held = Vector256.LoadUnsafe(ref a, (nuint)x);
            Vector256<short> isBelow = Vector256.LessThanOrEqual(held, Vector256.Create(LastSoft));
            if (isBelow == Vector256<short>.Zero)
            {
                continue;
            }

            Vector256<short> isEmpty =
                Vector256.Equals(held, Vector256<short>.Zero) | Vector256.LessThanOrEqual(held, Vector256.Create(Least));
            Vector256<short> isSoft = isBelow & Vector256.GreaterThan(held, Vector256.Create(NotSoft));
            uint empty = isEmpty.ExtractMostSignificantBits(),
                soft = isSoft.ExtractMostSignificantBits();
            Empty += BitOperations.PopCount(empty);
            Soft += BitOperations.PopCount(soft);
            if (empty != 0)
            {
                Vector256<short> isBright =
                    Vector256.GreaterThan(Vector256.LoadUnsafe(ref r, (nuint)x), lit)
                    | Vector256.GreaterThan(Vector256.LoadUnsafe(ref g, (nuint)x), lit)
                    | Vector256.GreaterThan(Vector256.LoadUnsafe(ref b, (nuint)x), lit);
                uint suspects = empty & isBright.ExtractMostSignificantBits();
                for (; suspects != 0; suspects &= suspects - 1)
                {
                    TestEmpty(band, row, x + BitOperations.TrailingZeroCount(suspects));
                }
            }

            if (soft != 0)
            {
                for (int half = 0; half < 2; half++)
                {
                    int at = x + 8 * half;
                    Vector256<float> brightest = Vector256.Max(Floats(ref r, at), Vector256.Max(Floats(ref g, at), Floats(ref b, at)));
                    uint above = Vector256
                        .GreaterThan(brightest, Floats(ref a, at) + Vector256.Create(SoftAlpha.Lit))
                        .ExtractMostSignificantBits();
                    Above += BitOperations.PopCount(above & (soft >> (8 * half)));
                }
            }
        }

        for (; x < cover.Length; x++)
        {
            float value = HalfLine.One(cover[x]);
            if (value <= 0)
            {
                Empty++;
                TestEmpty(band, row, x);
            }
            else if (SoftAlpha.IsSoft(value))
            {
                Soft++;
                Above += Brightest(HalfLine.One(red[x]), HalfLine.One(green[x]), HalfLine.One(blue[x])) > value + SoftAlpha.Lit ? 1 : 0;
            }
        }
    }

    private static Vector256<float> Floats(ref short halves, int at) =>
        HalfLine.Eight(Vector128.LoadUnsafe(ref halves, (nuint)at).AsUInt16());

    /// <summary>Looks at a pixel whose alpha is 0, for sure.</summary>
    private void TestEmpty(in ScanBand band, int row, int x)
    {
        float red = HalfLine.One(band.Halves(Colour[0], row)[x]),
            green = HalfLine.One(band.Halves(Colour[1], row)[x]),
            blue = HalfLine.One(band.Halves(Colour[2], row)[x]);
        if (!(Brightest(red, green, blue) > SoftAlpha.Lit))
        {
            return;
        }

        foreach (int[] pass in Glow)
        {
            red -= HalfLine.One(band.Halves(pass[0], row)[x]);
            green -= HalfLine.One(band.Halves(pass[1], row)[x]);
            blue -= HalfLine.One(band.Halves(pass[2], row)[x]);
        }

        NoteLit(MathF.Max(0, MathF.Max(MathF.Max(red, green), blue)), band.Box.MinX + x, band.Box.MinY + row);
    }

    /// <summary>The largest half below a number, or the number itself when it may be.</summary>
    private static short Below(float number, bool isIncluded)
    {
        short bits = 0;
        while ((float)BitConverter.Int16BitsToHalf((short)(bits + 1)) is var next && (next < number || (isIncluded && next == number)))
        {
            bits++;
        }

        return bits;
    }
}
