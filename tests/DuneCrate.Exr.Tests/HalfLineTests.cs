using CsCheck;
using DuneCrate.Exr.Codecs;

namespace DuneCrate.Exr.Tests;

/// <summary>
/// Whole lines of halves against .NET's own <see cref="Half"/>, which converts one number at a time as IEEE 754-2019 says (rounding to
/// nearest, ties to even).
/// </summary>
public class HalfLineTests
{
    private static ushort Rounded(float value) => BitConverter.HalfToUInt16Bits((Half)value);

    [Fact]
    public void Every_half_becomes_its_float_whatever_stands_beside_it()
    {
        ushort[] all = [.. Enumerable.Range(0, 65536).Select(b => (ushort)b)];
        new Random(3).Shuffle(all);
        float[] floats = new float[all.Length];
        HalfLine.ToFloats(all, floats);
        Assert.All(all.Zip(floats), p => Assert.Equal((float)BitConverter.UInt16BitsToHalf(p.First), p.Second));
    }

    [Fact]
    public void Stretches_of_zeros_of_normal_and_of_tiny_numbers_are_converted_alike()
    {
        ushort[] halves =
        [
            .. Enumerable.Repeat((ushort)0, 40),
            .. Enumerable.Repeat((ushort)0xBC00, 35),
            .. Enumerable.Repeat((ushort)0x0001, 19),
            .. Enumerable.Repeat((ushort)0x8000, 33),
            0x7C00,
            0x0400,
        ];
        float[] floats = new float[halves.Length];
        HalfLine.ToFloats(halves, floats);
        Assert.Equal(halves.Select(h => (float)BitConverter.UInt16BitsToHalf(h)), floats);
        Assert.Equal(33, floats.Count(f => f == 0 && float.IsNegative(f)));
    }

    [Fact]
    public void Numbers_between_two_halves_go_to_the_nearer_and_from_the_middle_to_the_even_one()
    {
        float[] floats = [.. Enumerable.Range(0, 0x7BFF).SelectMany(Between).SelectMany(f => new[] { f, -f })];
        ushort[] halves = new ushort[floats.Length];
        HalfLine.FromFloats(floats, halves);
        Assert.Equal(floats.Select(Rounded), halves);

        static IEnumerable<float> Between(int bits)
        {
            float low = (float)BitConverter.UInt16BitsToHalf((ushort)bits),
                high = (float)BitConverter.UInt16BitsToHalf((ushort)(bits + 1)),
                middle = low + (high - low) / 2;
            return [low, middle, MathF.BitDecrement(middle), MathF.BitIncrement(middle)];
        }
    }

    [Theory]
    [InlineData(0f, 0x0000)]
    [InlineData(-0f, 0x8000)]
    [InlineData(65504f, 0x7BFF)]
    [InlineData(65519.996f, 0x7BFF)]
    [InlineData(65520f, 0x7C00)] // The middle between the greatest half and the next that there is no room for.
    [InlineData(1e30f, 0x7C00)]
    [InlineData(float.PositiveInfinity, 0x7C00)]
    [InlineData(float.NegativeInfinity, 0xFC00)]
    [InlineData(2.9802322e-08f, 0x0000)] // Half of the smallest half: a tie, to even.
    [InlineData(2.9802326e-08f, 0x0001)]
    [InlineData(1e-40f, 0x0000)]
    public void The_ends_of_the_range_are_those_of_IEEE_754(float value, int bits)
    {
        ushort[] halves = new ushort[17];
        HalfLine.FromFloats([.. Enumerable.Repeat(value, 17)], halves);
        Assert.All(halves, h => Assert.Equal((ushort)bits, h));
        Assert.Equal((ushort)bits, Rounded(value));
    }

    [Fact]
    public void What_is_no_number_stays_none()
    {
        ushort[] halves = new ushort[20];
        HalfLine.FromFloats([.. Enumerable.Repeat(float.NaN, 10), .. Enumerable.Repeat(-float.NaN, 10)], halves);
        Assert.All(halves, h => Assert.True(Half.IsNaN(BitConverter.UInt16BitsToHalf(h))));
    }

    [Fact]
    public void Any_floats_round_as_Half_does() =>
        Gen
            .Single.Array[0, 70]
            .Sample(floats =>
            {
                ushort[] halves = new ushort[floats.Length];
                HalfLine.FromFloats(floats, halves);
                return floats
                    .Zip(halves)
                    .All(p => float.IsNaN(p.First) ? Half.IsNaN(BitConverter.UInt16BitsToHalf(p.Second)) : p.Second == Rounded(p.First));
            });

    [Fact]
    public void Words_are_looked_up_in_place()
    {
        ushort[] table = [.. Enumerable.Range(0, 65536).Select(i => (ushort)(65535 - i))],
            words = [0, 1, 65535, 0x8000, 7];
        PlanarLines.LookUp(words, words, table);
        Assert.Equal([65535, 65534, 0, 0x7fff, 65528], words.Select(w => (int)w));
    }
}
