using System.Buffers.Binary;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Intake.Measures;
using DuneCrate.Exr;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Checking.Tests.Intake;

/// <summary>
/// What is measured of passes in one go, many pixels at once, against the plainest program that does the same: pixel by pixel over the
/// whole picture. The definitions are
/// those of RULES.md; the pictures are random, of odd sizes, with windows that do not begin at 0.
/// </summary>
public sealed partial class MeasureTests : IDisposable
{
    private readonly TempFolder _folder = new();

    public static TheoryData<int, int, int> Sizes =>
        new()
        {
            { 53, 37, 1 },
            { 96, 54, 2 },
            { 33, 19, 3 },
            { 7, 5, 4 },
            { 129, 18, 5 },
        };

    /// <summary>Sizes, sample types, lines of a chunk, and how bright it is: down to where halves have no leading bit any more.</summary>
    public static TheoryData<int, int, int, ChannelType, string, float> FireflyPictures
    {
        get
        {
            var data = new TheoryData<int, int, int, ChannelType, string, float>();
            foreach (
                (int width, int height, int seed) in new[]
                {
                    (53, 37, 1),
                    (96, 54, 2),
                    (33, 19, 3),
                    (7, 5, 4),
                    (129, 18, 5),
                    (3, 3, 6),
                    (2, 9, 7),
                    (17, 2, 8),
                    (1, 1, 9),
                }
            )
            {
                foreach (ChannelType type in new[] { ChannelType.Half, ChannelType.Float })
                {
                    foreach (
                        (string compression, float scale) in new[]
                        {
                            ("zip", 1),
                            ("none", 1),
                            ("piz", 100),
                            ("zip", 1e-5f),
                            ("zips", 3e-6f),
                            ("zip", -1),
                        }
                    )
                    {
                        data.Add(width, height, seed, type, compression, scale);
                    }
                }
            }

            return data;
        }
    }

    [Theory]
    [MemberData(nameof(FireflyPictures))]
    public void Fireflies_are_lone_pixels_above_their_neighbours(
        int width,
        int height,
        int seed,
        ChannelType type,
        string compression,
        float scale
    )
    {
        var random = new Random(seed);
        Picture picture = new(width, height, random, "R", "G", "B") { Type = type, Compression = ExrCompression.Find(compression)! };
        for (int i = 0; i < 6; i++)
        {
            float[] plane = picture[random.Next(2) == 0 ? "R" : "G"];
            int place = random.Next(width * height);
            plane[place] = 40 + random.NextSingle() * 100;
            if (i % 3 == 0)
            {
                // Two side by side are both lone: the median of their neighbours is dim.
                plane[(place + 1) % plane.Length] = 40 + random.NextSingle() * 100;
            }
        }

        foreach (string name in picture.Names)
        {
            picture[name] = Plane(picture, i => Round(picture[name][i] * scale));
        }

        (PassFacts facts, SampleStatistics[] samples) = Measure(picture, "beauty");
        var lone = new HashSet<int>();
        (float worst, int at) = (0, -1);
        for (int c = 0; c < 3; c++)
        {
            float[] plane = picture[c];
            for (int i = 0; i < plane.Length; i++)
            {
                (int x, int y) = (i % width, i / width);
                if (x == 0 || y == 0 || x == width - 1 || y == height - 1)
                {
                    continue;
                }

                float[] around = [.. Around(plane, i, width).Order()];
                // What is negative is not bright, however dark its neighbours are.
                if (plane[i] > 0 && plane[i] > 8 * (around[3] + around[4]) / 2 && plane[i] > samples[c].Percentiles[^1])
                {
                    lone.Add(i);
                    (worst, at) = plane[i] > worst ? (plane[i], i) : (worst, at);
                }
            }
        }

        Assert.Equal((lone.Count, (double)worst), (facts.Fireflies!.Count, facts.Fireflies.Worst));
        Assert.Equal(at < 0 ? null : picture.At(at), facts.Fireflies.At);
    }

    [Theory]
    [MemberData(nameof(Sizes))]
    public void Colour_of_halves_is_held_against_alpha(int width, int height, int seed) =>
        HoldAgainstAlpha(width, height, seed, ChannelType.Half);

    [Theory]
    [MemberData(nameof(Sizes))]
    public void Colour_of_floats_is_held_against_alpha(int width, int height, int seed) =>
        HoldAgainstAlpha(width, height, seed, ChannelType.Float);

    private void HoldAgainstAlpha(int width, int height, int seed, ChannelType type)
    {
        var random = new Random(seed);
        Picture picture = new(width, height, random, "R", "G", "B", "A", "emission.R", "emission.G", "emission.B") { Type = type };
        picture["A"] = Plane(
            picture,
            _ =>
                random.Next(4) switch
                {
                    0 => 0,
                    1 => 1,
                    _ => Round(random.NextSingle()),
                }
        );
        picture["emission.R"] = Plane(picture, i => random.Next(2) == 0 ? picture["R"][i] : 0);
        picture["emission.G"] = Plane(picture, i => picture["emission.R"][i] > 0 ? picture["G"][i] : 0);
        picture["emission.B"] = Plane(picture, i => picture["emission.R"][i] > 0 ? picture["B"][i] : 0);
        AlphaFacts facts = Measure(picture, "beauty").Facts.Alpha!;
        (long empty, long lit, long soft, long above, int first) = (0, 0, 0, 0, -1);
        for (int i = 0; i < picture.Size; i++)
        {
            (float a, float brightest) = (picture["A"][i], Max(picture["R"][i], picture["G"][i], picture["B"][i]));
            if (a <= 0)
            {
                empty++;
                if (
                    Max(
                        picture["R"][i] - picture["emission.R"][i],
                        picture["G"][i] - picture["emission.G"][i],
                        picture["B"][i] - picture["emission.B"][i]
                    ) > 1e-3f
                )
                {
                    lit++;
                    first = first < 0 ? i : first;
                }
            }
            else if (a is > 0.02f and < 0.98f)
            {
                soft++;
                above += brightest > a + 1e-3f ? 1 : 0;
            }
        }

        Assert.Equal((empty, lit, soft, above), (facts.Empty, facts.Lit, facts.Soft, facts.Above));
        Assert.Equal(first < 0 ? null : picture.At(first), facts.At);
    }

    [Theory]
    [MemberData(nameof(Sizes))]
    public void Coverage_and_the_tiny_picture_are_block_means(int width, int height, int seed)
    {
        Picture picture = new(width, height, new Random(seed), "R", "G", "B", "A");
        picture["A"] = Plane(picture, i => Round(picture["A"][i] % 1));
        PassFacts facts = Measure(picture, "beauty").Facts;
        for (int block = 0; block < 32 * 18; block++)
        {
            int[] inside = [.. Enumerable.Range(0, picture.Size).Where(i => BlockOf(i) == block)];
            double Mean(string channel) => inside.Length == 0 ? 0 : inside.Average(i => picture[channel][i]);
            Assert.Equal(Math.Round(Math.Clamp(Mean("A"), 0, 1) * 255), facts.Coverage![block], 1.0);
            Assert.Equal(
                (Mean("R") + Mean("G") + Mean("B")) / 3,
                (double)BinaryPrimitives.ReadHalfLittleEndian(facts.Picture!.Blocks.AsSpan(2 * block)),
                2e-3
            );
        }

        // A column of blocks begins at the whole part of column × width / 32, a row of blocks holds the lines whose number × 18 / height
        // has its whole part.
        int BlockOf(int i) =>
            i / width * 18 / height * 32
            + Enumerable.Range(0, 32).Last(c => c * width / 32 <= i % width && (c + 1) * width / 32 > i % width);
    }

    [Theory]
    [MemberData(nameof(Sizes))]
    public void The_ground_of_occlusion_is_white_where_nothing_is(int width, int height, int seed)
    {
        var random = new Random(seed);
        Picture picture = new(width, height, random, "A", "ao.Y");
        picture["A"] = Plane(picture, _ => random.Next(2));
        picture["ao.Y"] = Plane(picture, _ => Round(random.Next(3) == 0 ? random.NextSingle() : 1));
        GroundFacts facts = Measure(picture, "ao").Facts.Ground!;
        int[] empty = [.. Enumerable.Range(0, picture.Size).Where(i => picture["A"][i] == 0)],
            dark = [.. empty.Where(i => picture["ao.Y"][i] < 0.98f)];
        Assert.Equal((empty.Length, dark.Length, picture["ao.Y"].Count(v => v >= 0.98f)), (facts.Empty, facts.Dark, facts.White));
        Assert.Equal(dark.Length == 0 ? null : picture.At(dark[0]), facts.At);
    }

    [Theory]
    [MemberData(nameof(Sizes))]
    public void Edge_pixels_of_a_depth_lie_on_one_side_or_between(int width, int height, int seed)
    {
        var random = new Random(seed);
        Picture picture = new(width, height, random, "Z") { Type = ChannelType.Float };
        float[] plane = picture["Z"];
        for (int y = 0; y < height; y++)
        {
            for (int x = 0; x < width; )
            {
                // Flat stretches; between some of them one pixel that lies on neither side, or a ramp of two.
                (float depth, int length) = (2 + random.Next(1, 30), random.Next(3, 9));
                float before = x > 0 ? plane[y * width + x - 1] : depth;
                int kind = x > 0 ? random.Next(3) : 0;
                for (int k = 0; k < kind && x < width; k++, x++)
                {
                    plane[y * width + x] = before + (depth - before) * (k + 1) / (kind + 1);
                }

                for (int end = Math.Min(width, x + length); x < end; x++)
                {
                    plane[y * width + x] = depth;
                }
            }
        }

        DepthFacts facts = Measure(picture, "depth").Facts.Depth!;
        (long edges, long between, int first) = (0, 0, -1);
        for (int i = 0; i < picture.Size; i++)
        {
            int x = i % width;
            if (x < 2 || x >= width - 2)
            {
                continue;
            }

            (float a, float b, float c, float d, float e) = (plane[i - 2], plane[i - 1], plane[i], plane[i + 1], plane[i + 2]);
            bool isRamp = x + 3 < width && IsRamp(a, b, c, d, e, plane[i + 3]);
            bool isEdge = Math.Abs(b - d) > 0.05f * Math.Min(b, d) && Math.Abs(a - b) <= 0.01f * b && Math.Abs(d - e) <= 0.01f * d;
            float share = (c - b) / (d - b);
            if (isRamp || isEdge)
            {
                edges++;
                if (isRamp || share is > 0.02f and < 0.98f)
                {
                    between++;
                    first = first < 0 ? i : first;
                }
            }
        }

        Assert.Equal((edges, between, (double)plane.Min()), (facts.Edges, facts.Between, facts.Nearest));
        Assert.Equal(first < 0 ? null : picture.At(first), facts.At);

        static bool IsRamp(float a, float b, float c, float d, float e, float f)
        {
            (float one, float two) = ((c - b) / (e - b), (d - b) / (e - b));
            return Math.Abs(b - e) > 0.05f * Math.Min(b, e)
                && Math.Abs(a - b) <= 0.01f * b
                && Math.Abs(e - f) <= 0.01f * e
                && one is > 0.02f and < 0.5f
                && two is > 0.5f and < 0.98f;
        }
    }

    [Fact]
    public void The_distance_of_nothing_is_left_aside()
    {
        Picture picture = new(64, 36, new Random(1), "Z") { Type = ChannelType.Float };
        picture["Z"] = Plane(picture, i => i % 64 < 20 ? 1e10f : 3 + i % 64 / 8f);
        DepthFacts facts = Measure(picture, "depth").Facts.Depth!;
        Assert.Equal(
            (1e10, 20 * 36L, 5.5),
            (facts.Background!.Value, facts.BackgroundPixels, facts.Nearest),
            (a, b) => Math.Abs(a.Item1 - b.Item1) < 1e3 && a.Item2 == b.Item2 && a.Item3 == b.Item3
        );
        Assert.InRange(facts.Farthest, 10.875 * (1 - 1 / 128.0), 10.875 * (1 + 1 / 128.0));
    }

    private (PassFacts Facts, SampleStatistics[] Samples) Measure(Picture picture, string pass)
    {
        string path = _folder["a.0001.exr"];
        ExrWriter.Write(Disk.File(path), picture.ToImage());
        FileFacts facts = Disk.Facts(path, new FactsRequest(FactsDepth.Pixels));
        Assert.Null(facts.Problem);
        return (facts.Parts[0].Passes!.Value.Single(p => p.Pass == pass), [.. picture.Names.Select(n => facts.FindChannel(n)!.Samples!)]);
    }

    private static float[] Around(float[] plane, int i, int width) =>
        [
            plane[i - width - 1],
            plane[i - width],
            plane[i - width + 1],
            plane[i - 1],
            plane[i + 1],
            plane[i + width - 1],
            plane[i + width],
            plane[i + width + 1],
        ];

    private static float[] Plane(Picture picture, Func<int, float> value) => [.. Enumerable.Range(0, picture.Size).Select(value)];

    private static float Round(float value) => (float)(Half)value;

    private static float Max(params float[] values) => values.Max();

    public void Dispose() => _folder.Dispose();
}
