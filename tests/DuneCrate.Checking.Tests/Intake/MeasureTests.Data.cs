using System.Buffers.Binary;
using DuneCrate.Checking.Intake.Measures;
using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Checking.Tests.Intake;

/// <content>Normals, ids, Cryptomatte, percentiles.</content>
public sealed partial class MeasureTests
{
    [Theory]
    [MemberData(nameof(Sizes))]
    public void Normals_have_a_length(int width, int height, int seed)
    {
        var random = new Random(seed);
        Picture picture = new(width, height, random, "normal.X", "normal.Y", "normal.Z") { Type = ChannelType.Float };
        for (int i = 0; i < picture.Size; i++)
        {
            float length = random.Next(5) switch
            {
                0 => 0,
                1 => 0.9f,
                2 => 1.05f,
                _ => 1,
            };
            double turn = random.NextDouble() * 6;
            (picture[0][i], picture[1][i], picture[2][i]) = (
                length * (float)Math.Cos(turn),
                length * (float)Math.Sin(turn) * 0.6f,
                length * (float)Math.Sin(turn) * 0.8f
            );
        }

        NormalFacts facts = Measure(picture, "normal").Facts.Normal!;
        double[] lengths =
        [
            .. Enumerable
                .Range(0, picture.Size)
                .Select(i => Math.Sqrt(Square(picture[0][i]) + Square(picture[1][i]) + Square(picture[2][i]))),
        ];
        int[] off = [.. Enumerable.Range(0, picture.Size).Where(i => lengths[i] >= 0.5 && Math.Abs(lengths[i] - 1) > 0.02)];
        Assert.Equal((lengths.Count(l => l >= 0.5), off.Length), (facts.Covered, facts.Off));
        Assert.Equal(lengths.Where(l => l >= 0.5).Average(), facts.MeanLength, 1e-4);
        Assert.Equal(off.Length == 0 ? null : picture.At(off[0]), facts.At);

        static double Square(double v) => v * v;
    }

    [Theory]
    [MemberData(nameof(Sizes))]
    public void Ids_are_counted_and_what_lies_between_two_is_found(int width, int height, int seed)
    {
        var random = new Random(seed);
        Picture picture = new(width, height, random, "object_id.Y") { Type = ChannelType.Float };
        picture[0] = Plane(
            picture,
            i =>
                random.Next(9) == 0 ? 3.5f
                : i / 3 % 2 == 0 ? 2
                : 7
        );
        IdFacts facts = Measure(picture, "object_id").Facts.Ids!;
        Assert.Equal(
            picture[0]
                .GroupBy(v => v)
                .OrderByDescending(g => g.Count())
                .ThenBy(g => g.Key)
                .Select(g => (g.Key.ToString("R", System.Globalization.CultureInfo.InvariantCulture), (long)g.Count())),
            facts.Ids.Select(i => (i.Value, i.Pixels))
        );
        int[] between =
        [
            .. Enumerable
                .Range(0, picture.Size)
                .Where(i => i % width > 0 && i % width < width - 1 && IsBetween(picture[0][i - 1], picture[0][i], picture[0][i + 1])),
        ];
        Assert.Equal((picture[0].Count(v => v == 3.5f), between.Length), (facts.Fractional, facts.Between));
        Assert.Equal(between.Length == 0 ? null : picture.At(between[0]), facts.At);

        static bool IsBetween(float left, float value, float right) =>
            value != left && value != right && left != right && value >= Math.Min(left, right) && value <= Math.Max(left, right);
    }

    [Theory]
    [MemberData(nameof(Sizes))]
    public void Ranks_fall_and_coverages_sum_to_one(int width, int height, int seed)
    {
        var random = new Random(seed);
        Picture picture = new(width, height, random, "CryptoObject00.R", "CryptoObject00.G", "CryptoObject00.B", "CryptoObject00.A")
        {
            Type = ChannelType.Float,
        };
        float[] ids =
        [
            BitConverter.UInt32BitsToSingle(0x4a1f7c3b),
            BitConverter.UInt32BitsToSingle(0x3f9d22e1),
            BitConverter.UInt32BitsToSingle(0x01c0ffee),
        ];
        for (int i = 0; i < picture.Size; i++)
        {
            (float first, float second) = random.Next(8) switch
            {
                0 => (0.4f, 0.6f),
                1 => (0.9f, 0.3f),
                2 => (0f, 0f),
                3 or 4 => (0.7f, 0.3f),
                _ => (1f, 0f),
            };
            (picture[0][i], picture[1][i], picture[2][i], picture[3][i]) = (ids[random.Next(2)], first, ids[2], second);
        }

        CryptoFacts facts = Measure(picture, "cryptomatte.object").Facts.Crypto!;
        int[] rising = [.. Enumerable.Range(0, picture.Size).Where(i => picture[3][i] > picture[1][i] + 1e-4f)],
            over = [.. Enumerable.Range(0, picture.Size).Where(i => picture[1][i] + picture[3][i] > 1.001f)];
        Assert.Equal((rising.Length, over.Length), (facts.Rising, facts.Over));
        var counts = Enumerable
            .Range(0, picture.Size)
            .SelectMany(i => new (float Id, float Cover)[] { (picture[0][i], picture[1][i]), (picture[2][i], picture[3][i]) })
            .Where(r => r.Cover > 0)
            .GroupBy(r => BitConverter.SingleToUInt32Bits(r.Id))
            .ToDictionary(g => g.Key.ToString("x8", System.Globalization.CultureInfo.InvariantCulture), g => (long)g.Count());
        Assert.Equal(counts.OrderBy(c => c.Key), facts.Ids.ToDictionary(i => i.Value, i => i.Pixels).OrderBy(c => c.Key));
        Assert.Equal(rising.Concat(over).Any() ? picture.At(rising.Concat(over).Min()) : null, facts.At);
    }

    [Theory]
    [MemberData(nameof(Sizes))]
    public void So_many_percent_of_the_samples_lie_below_a_percentile(int width, int height, int seed)
    {
        double[] shares = [0.001, 0.01, 0.05, 0.25, 0.5, 0.75, 0.95, 0.99, 0.999];
        Picture picture = new(width, height, new Random(seed), "R", "G", "B");
        SampleStatistics samples = Measure(picture, "beauty").Samples[0];
        float[] values = picture["R"];
        Assert.All(
            shares.Zip(samples.Percentiles),
            p =>
            {
                Assert.True(values.Count(v => v < p.Second) <= p.First * values.Length + 1, $"{p.First}: too many below {p.Second}");
                Assert.True(values.Count(v => v <= p.Second) >= p.First * values.Length - 1, $"{p.First}: too few up to {p.Second}");
            }
        );
    }

    [Fact]
    public void Samples_that_are_no_numbers_disturb_no_measure()
    {
        Picture picture = new(40, 24, new Random(3), "R", "G", "B", "A");
        picture["A"] = Plane(picture, _ => 1);
        picture["R"][45] = float.NaN;
        picture["G"][90] = float.PositiveInfinity;
        PassFacts facts = Measure(picture, "beauty").Facts;
        Assert.True(double.IsFinite(facts.Fireflies!.Worst));
        Assert.All(
            Enumerable.Range(0, 32 * 18),
            b => Assert.True(Half.IsFinite(BinaryPrimitives.ReadHalfLittleEndian(facts.Picture!.Blocks.AsSpan(2 * b))))
        );
    }
}
