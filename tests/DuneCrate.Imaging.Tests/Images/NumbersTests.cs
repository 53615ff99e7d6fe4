using CsCheck;
using DuneCrate.Checking.Intake;
using DuneCrate.Exr;
using DuneCrate.Exr.Codecs;
using DuneCrate.Imaging.Colour;
using DuneCrate.Imaging.Cryptomatte;
using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Imaging.Tests.Images;

/// <summary>Half, sRGB, hashes, codecs and statistics against published values.</summary>
public class NumbersTests
{
    [Theory] // IEEE 754-2019 binary16: sign 1, exponent 5 (bias 15), significand 10 bits.
    [InlineData(0x3C00, 1f)]
    [InlineData(0xC000, -2f)]
    [InlineData(0x7BFF, 65504f)]
    [InlineData(0x0400, 6.103515625e-05f)]
    [InlineData(0x0001, 5.9604644775390625e-08f)]
    [InlineData(0x3555, 0.333251953125f)]
    [InlineData(0x8000, -0f)]
    public void Half_patterns_mean_their_ieee_values(int bits, float value)
    {
        float[] read = new float[1];
        byte[] written = new byte[2];
        ExrImage.ToFloats(BitConverter.GetBytes((ushort)bits), ExrPixelType.Half, read);
        ExrImage.FromFloats([value], ExrPixelType.Half, written);
        Assert.Equal(value, read[0]);
        Assert.Equal((ushort)bits, BitConverter.ToUInt16(written));
    }

    [Fact]
    public void Every_half_converts_as_System_Half_does()
    {
        ushort[] all = [.. Enumerable.Range(0, 65536).Select(b => (ushort)b)];
        float[] floats = new float[65536];
        byte[] back = new byte[131072];
        ExrImage.ToFloats(System.Runtime.InteropServices.MemoryMarshal.AsBytes(all.AsSpan()), ExrPixelType.Half, floats);
        ExrImage.FromFloats(floats, ExrPixelType.Half, back);
        for (int bits = 0; bits < 65536; bits++)
        {
            float expected = (float)BitConverter.UInt16BitsToHalf((ushort)bits);
            Assert.True(floats[bits].Equals(expected), $"{bits:x4}");
            Assert.True(float.IsNaN(expected) || BitConverter.ToUInt16(back, 2 * bits) == bits, $"{bits:x4} back");
        }
    }

    [Fact]
    public void Rounding_to_half_is_to_nearest_even() =>
        Gen.Single[-70000, 70000]
            .Array[40]
            .Sample(values =>
            {
                byte[] bytes = new byte[80];
                ExrImage.FromFloats(values, ExrPixelType.Half, bytes);
                return values
                    .Select((v, i) => BitConverter.ToUInt16(bytes, 2 * i) == BitConverter.HalfToUInt16Bits((Half)v))
                    .All(same => same);
            });

    [Theory] // IEC 61966-2-1:1999: the linear part up to 0.04045, then ((v + 0.055) / 1.055)^2.4; mid values worked out by hand.
    [InlineData(0, 0)]
    [InlineData(0.04045, 0.0031308049535603713)]
    [InlineData(0.5, 0.21404114048223255)]
    [InlineData(1, 1)]
    [InlineData(0.02, 0.0015479876160990713)]
    public void Srgb_decodes_as_published(double encoded, double linear) => Assert.Equal(linear, SrgbCurve.Decode(encoded), 12);

    [Fact]
    public void Srgb_encode_undoes_decode() => Gen.Double[-1, 4].Sample(v => Math.Abs(SrgbCurve.Encode(SrgbCurve.Decode(v)) - v) < 1e-6);

    [Theory] // MurmurHash3_x86_32 test values published with its verification suite; from memory, cross-checked by the empty-input law.
    [InlineData("", 0u, 0u)]
    [InlineData("", 1u, 0x514E28B7u)]
    [InlineData("", 0xffffffffu, 0x81F16F39u)]
    [InlineData("test", 0u, 0xba6bd213u)]
    [InlineData("Hello, world!", 0u, 0xc0363e43u)]
    [InlineData("The quick brown fox jumps over the lazy dog", 0u, 0x2e4ff723u)]
    public void Murmur3_gives_its_published_values(string text, uint seed, uint hash) =>
        Assert.Equal(hash, CryptomatteHash.Murmur3(System.Text.Encoding.UTF8.GetBytes(text), seed));

    [Fact] // Cryptomatte specification 1.2: ids are finite, normal floats.
    public void Cryptomatte_ids_are_normal_floats() => Gen.UInt.Sample(hash => float.IsNormal(CryptomatteHash.ToFloat(hash)));

    [Theory]
    [InlineData("rle")]
    [InlineData("zip")]
    public void Decode_undoes_encode(string name)
    {
        IExrCodec codec = ExrCompression.Find(name)!.Codec!;
        Gen.OneOf(
                Gen.Byte.Array[1, 700],
                Gen.Byte[0, 2].Array[1, 700],
                Gen.Select(Gen.Byte, Gen.Int[1, 900], (value, count) => Enumerable.Repeat(value, count).ToArray())
            )
            .Sample(lines =>
            {
                byte[] packed = new byte[lines.Length],
                    scratch = new byte[lines.Length],
                    back = new byte[lines.Length];
                int length = codec.Encode(lines, packed, scratch, default);
                if (length < 0)
                {
                    return true;
                }

                codec.Decode(packed.AsMemory(0, length), back, scratch, default);
                return back.AsSpan().SequenceEqual(lines);
            });
    }

    [Fact]
    public void Rle_runs_as_the_format_says()
    {
        // Technical Introduction to OpenEXR: count n ≥ 0 repeats the next byte n + 1 times, n
        // < 0 copies −n bytes. Bytes are differences + 128, even places first.
        byte[] lines = new byte[6];
        new RleCodec().Decode(new byte[] { 0, 10, 4, 128 }, lines, new byte[6], default);
        Assert.Equal(new byte[] { 10, 10, 10, 10, 10, 10 }, lines);
        Assert.Throws<InvalidDataException>(() => new RleCodec().Decode(new byte[] { 127, 1 }, new byte[6], new byte[6], default));
        Assert.Throws<InvalidDataException>(() =>
            new RleCodec().Decode(new byte[] { unchecked((byte)-5), 1 }, new byte[6], new byte[6], default)
        );
    }

    [Fact]
    public void Deviation_is_of_the_population()
    {
        // Σ(v − mean)² / n: 2, 4, 4, 4, 5, 5, 7, 9 has mean 5 and deviation 2, the textbook example.
        foreach (ChannelType type in new[] { ChannelType.Half, ChannelType.Float, ChannelType.UInt })
        {
            SampleStatistics samples = Statistics([2, 4, 4, 4, 5, 5, 7, 9], type);
            Assert.Equal((2, 9, 5, 2), (samples.Min, samples.Max, samples.Mean, samples.StdDev));
        }
    }

    [Theory]
    [InlineData(ChannelType.Half)]
    [InlineData(ChannelType.Float)]
    public void Statistics_agree_with_a_plain_sum(ChannelType type) =>
        Gen.Single[-900, 900]
            .Array[1, 90]
            .Sample(
                values =>
                {
                    double[] stored = [.. values.Select(v => type == ChannelType.Half ? (double)(Half)v : v)];
                    SampleStatistics samples = Statistics(values, type);
                    double mean = stored.Average(),
                        deviation = Math.Sqrt(stored.Average(v => (v - mean) * (v - mean)));
                    return samples.Min == stored.Min()
                        && samples.Max == stored.Max()
                        && Math.Abs(samples.Mean - mean) < 1e-9 * 900
                        && Math.Abs(samples.StdDev - deviation) < 1e-6
                        && samples.Pixels == values.Length;
                },
                iter: 200
            );

    [Fact]
    public void Samples_that_are_no_numbers_are_left_out()
    {
        SampleStatistics samples = Statistics([float.NaN, 1, float.PositiveInfinity, 3, float.NegativeInfinity], ChannelType.Half);
        Assert.Equal((1, 3, 2d, 1L, 2L), (samples.Min, samples.Max, samples.Mean, samples.Nan, samples.Inf));
        Assert.Equal(0, Statistics([float.NaN], ChannelType.Float).Max);
    }

    [Theory]
    [InlineData(ChannelType.Half)]
    [InlineData(ChannelType.Float)]
    public void Eight_bit_levels_are_recognised_on_both_grids(ChannelType type)
    {
        float[] linear = [.. Enumerable.Range(0, 256).Select(k => k / 255f)],
            srgb = [.. Enumerable.Range(0, 256).Select(k => (float)SrgbCurve.Decode(k / 255d))];
        Assert.Equal("linear", Statistics(linear, type).Grid);
        Assert.Equal("srgb", Statistics(srgb, type).Grid);
        Assert.Null(Statistics([.. linear, 0.123456f], type).Grid);
        Assert.InRange(Statistics(linear, type).Levels, 250, 256);
    }

    private static SampleStatistics Statistics(float[] values, ChannelType type)
    {
        using var folder = new TempFolder();
        PixelBox window = PixelBox.OfSize(values.Length, 1);
        var part = new ExrPart([new ExrChannel("R", type.ToExr())], window, window, ExrCompression.None, []);
        ExrWriter.Write(
            Disk.File(folder["a.exr"]),
            new ExrImage(part, System.Collections.Immutable.ImmutableDictionary<string, float[]>.Empty.Add("R", values))
        );
        return Disk.Facts(folder["a.exr"], new FactsRequest(FactsDepth.Pixels)).Parts[0].Channels[0].Samples!;
    }
}
