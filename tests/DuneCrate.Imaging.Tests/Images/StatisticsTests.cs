using System.Runtime.InteropServices;
using CsCheck;
using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Imaging.Tests.Images;

/// <summary>
/// Statistics that are gathered line by line from counts, against the plainest program over all samples at once. Percentiles by nearest
/// rank: the least sample at or below which at least
/// the share of all samples lies (Hyndman and Fan 1996, definition 1); deviation of the population.
/// </summary>
public class StatisticsTests
{
    /// <summary>Bit patterns of halves: anything, a few values, tiny ones, and what is no number.</summary>
    private static readonly Gen<ushort> Half = Gen.OneOf(
        Gen.UShort,
        Gen.UShort[0, 5],
        Gen.UShort[0x3BF0, 0x3C10],
        Gen.UShort[0x7BFE, 0x7C02],
        Gen.UShort[0x8000, 0x8003]
    );

    private static readonly Gen<float> Float = Gen.OneOf(
        Gen.Single[-2, 2],
        Gen.OneOfConst(0f, -0f, 1f, -5e-5f, -2e-4f, 1e-40f, 65504f, 1e30f, float.NaN, float.PositiveInfinity, float.NegativeInfinity)
    );

    [Fact]
    public void Halves_are_counted_as_they_are() =>
        Half.Array[1, 300]
            .Sample(
                bits =>
                    Compare(
                        [.. bits.Select(b => (double)BitConverter.UInt16BitsToHalf(b))],
                        Gather(ChannelType.Half, 2, MemoryMarshal.AsBytes(bits.AsSpan())),
                        exactPercentiles: true
                    ),
                iter: 400
            );

    [Fact]
    public void Floats_are_counted_as_they_are() =>
        Float
            .Array[1, 300]
            .Sample(
                values =>
                    Compare(
                        [.. values.Select(v => (double)v)],
                        Gather(ChannelType.Float, 4, MemoryMarshal.AsBytes(values.AsSpan())),
                        exactPercentiles: false
                    ),
                iter: 400
            );

    [Fact]
    public void Whole_numbers_are_counted_as_they_are() =>
        Gen.OneOf(Gen.UInt, Gen.UInt[0, 4])
            .Array[1, 300]
            .Sample(
                values =>
                    Compare(
                        [.. values.Select(v => (double)v)],
                        Gather(ChannelType.UInt, 4, MemoryMarshal.AsBytes(values.AsSpan())),
                        exactPercentiles: false
                    ),
                iter: 200
            );

    [Theory]
    [InlineData(ChannelType.UInt, 3_000_000_000)]
    [InlineData(ChannelType.Float, 3_000_000_000)]
    [InlineData(ChannelType.Half, 60_000)]
    public void One_value_all_over_deviates_from_nothing(ChannelType type, double value)
    {
        byte[] sample = type switch
        {
            ChannelType.UInt => BitConverter.GetBytes((uint)value),
            ChannelType.Float => BitConverter.GetBytes((float)value),
            _ => BitConverter.GetBytes((System.Half)value),
        };
        SampleStatistics samples = Gather(type, sample.Length, Enumerable.Repeat(sample, 5000).SelectMany(s => s).ToArray());
        Assert.Equal((value, 0d), (samples.Mean, samples.StdDev));
    }

    [Fact]
    public void Lines_may_be_cut_anywhere() =>
        Gen.Select(Half.Array[2, 400], Gen.Int[1, 60])
            .Sample(
                (bits, length) =>
                {
                    ReadOnlySpan<byte> all = MemoryMarshal.AsBytes(bits.AsSpan());
                    SampleStatistics whole = Gather(ChannelType.Half, 2, all);
                    ChannelStatistics cut = ChannelStatistics.Create(ChannelType.Half);
                    for (int at = 0; at < bits.Length; at += length)
                    {
                        cut.AddLine(all.Slice(2 * at, 2 * Math.Min(length, bits.Length - at)), 2, 0, at / length);
                    }

                    SampleStatistics samples = cut.Finish();
                    return (whole.Hash, whole.Mean, whole.StdDev, whole.Nan, whole.Inf, whole.Levels, whole.Pixels)
                        == (samples.Hash, samples.Mean, samples.StdDev, samples.Nan, samples.Inf, samples.Levels, samples.Pixels);
                },
                iter: 300
            );

    [Fact]
    public void A_collector_that_was_used_begins_anew()
    {
        foreach (ChannelType type in new[] { ChannelType.Half, ChannelType.Float, ChannelType.UInt })
        {
            byte[] first = new byte[400],
                second = new byte[400];
            new Random(1).NextBytes(first);
            new Random(2).NextBytes(second);
            ChannelStatistics again = ChannelStatistics.Create(type);
            again.AddLine(first, type == ChannelType.Half ? 2 : 4, 0, 0);
            again.Finish();
            again.Reset();
            again.AddLine(second, type == ChannelType.Half ? 2 : 4, 0, 0);
            SampleStatistics fresh = Gather(type, type == ChannelType.Half ? 2 : 4, second),
                used = again.Finish();
            Assert.Equal(
                fresh with
                {
                    Percentiles = [],
                    FirstNonFinite = null,
                    NonFiniteBox = null,
                },
                used with
                {
                    Percentiles = [],
                    FirstNonFinite = null,
                    NonFiniteBox = null,
                }
            );
            Assert.Equal(fresh.Percentiles.AsEnumerable(), used.Percentiles);
            Assert.Equal(fresh.FirstNonFinite, used.FirstNonFinite);
            Assert.Equal(fresh.NonFiniteBox, used.NonFiniteBox);
        }
    }

    [Fact]
    public void The_box_of_what_is_no_number_is_the_least_that_holds_it()
    {
        ChannelStatistics statistics = ChannelStatistics.Create(ChannelType.Float);
        for (int y = 0; y < 6; y++)
        {
            float[] line = [.. Enumerable.Range(0, 9).Select(x => (x, y) is (4, 1) or (2, 3) or (7, 4) ? float.NaN : x)];
            statistics.AddLine(MemoryMarshal.AsBytes(line.AsSpan()), 4, -3, 10 + y);
        }

        SampleStatistics samples = statistics.Finish();
        Assert.Equal(3, samples.Nan);
        Assert.Equal([1, 11], samples.FirstNonFinite!);
        Assert.Equal([-1, 11, 4, 14], samples.NonFiniteBox!);
    }

    [Theory]
    [InlineData(ChannelType.Half)]
    [InlineData(ChannelType.Float)]
    public void The_bound_of_the_brightest_never_exceeds_their_percentile(ChannelType type)
    {
        var random = new Random(8);
        for (int round = 0; round < 30; round++)
        {
            const int Width = 200,
                Lines = 60;
            ChannelStatistics statistics = ChannelStatistics.Create(type);
            float scale = MathF.Pow(10, random.Next(-5, 4)),
                highest = 0;
            for (int y = 0; y < Lines; y++)
            {
                float[] line = [.. Enumerable.Range(0, Width).Select(_ => random.Next(3) == 0 ? scale * random.NextSingle() * y : 0)];
                statistics.AddLine(
                    type == ChannelType.Half
                        ? MemoryMarshal.AsBytes(line.Select(v => (System.Half)v).ToArray().AsSpan())
                        : MemoryMarshal.AsBytes(line.AsSpan()),
                    type == ChannelType.Half ? 2 : 4,
                    0,
                    y
                );
                float bound = statistics.BrightBound(Width * Lines);
                Assert.True(bound >= highest, "the bound fell");
                highest = bound;
            }

            Assert.InRange(highest, 0, statistics.Finish().Percentiles[^1]);
        }
    }

    private static SampleStatistics Gather(ChannelType type, int bytes, ReadOnlySpan<byte> samples)
    {
        ChannelStatistics statistics = ChannelStatistics.Create(type);
        statistics.AddLine(samples, bytes, 0, 0);
        return statistics.Finish();
    }

    private static bool Compare(double[] values, SampleStatistics samples, bool exactPercentiles)
    {
        double[] finite = [.. values.Where(double.IsFinite)];
        Assert.Equal(
            (values.Count(double.IsNaN), values.Count(double.IsInfinity), values.Length),
            ((int)samples.Nan, (int)samples.Inf, (int)samples.Pixels)
        );
        Assert.Equal(finite.Count(v => v < -1e-4f), samples.Negative);
        Assert.Equal(finite.Count(v => v == 0), samples.Zero);
        Assert.Equal(finite.Count(v => v == 1), samples.One);
        Assert.Equal(finite.Count(v => v > 1), samples.AboveOne);
        if (finite.Length == 0)
        {
            return true;
        }

        double mean = finite.Average(),
            deviation = Math.Sqrt(finite.Average(v => (v - mean) * (v - mean))),
            size = finite.Max(Math.Abs);
        Assert.Equal((finite.Min(), finite.Max()), (samples.Min, samples.Max));
        Assert.Equal(mean, samples.Mean, 1e-9 * size + 1e-12);
        Assert.Equal(deviation, samples.StdDev, 1e-6 * size + 1e-12);
        if (exactPercentiles)
        {
            double[] sorted = [.. finite.Order()];
            Assert.Equal(
                PercentileSketch.Shares.Select(s => sorted[Math.Max(0, (int)Math.Ceiling(s * sorted.Length) - 1)]),
                samples.Percentiles
            );
            Assert.Equal(finite.Select(v => BitConverter.HalfToUInt16Bits((System.Half)v)).Distinct().Count(), samples.Levels);
        }

        return true;
    }
}
