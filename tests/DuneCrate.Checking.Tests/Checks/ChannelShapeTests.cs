using System.Collections.Immutable;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Matching;
using DuneCrate.Exr;
using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Checking.Tests.Checks;

/// <summary>Where the channels of passes are in files that are alike, asked by many rules at once; and the statistics of a pass.</summary>
public class ChannelShapeTests
{
    private const int PassCount = 24;

    private static readonly FileFacts File = Facts([.. Enumerable.Range(0, PassCount).SelectMany(p => new[] { $"p{p}.R", $"p{p}.A" })]);

    private static readonly CheckedPass[] Passes =
    [
        .. Enumerable
            .Range(0, PassCount)
            .Select(p => new CheckedPass(
                $"p{p}",
                null,
                [($"p{p}.R", ChannelType.Half), ($"p{p}.A", ChannelType.Half), ($"p{p}.gone", ChannelType.Half)],
                p
            )),
    ];

    [Fact]
    public void Rules_that_ask_side_by_side_find_the_same_places()
    {
        ChannelShape[] shapes = [.. Enumerable.Range(0, 20_000).Select(_ => new ChannelShape.Finder().Match(File))];
        int wrong = 0;
        using var together = new Barrier(4);
        Thread[] rules =
        [
            .. Enumerable
                .Range(0, 4)
                .Select(_ => new Thread(() =>
                {
                    together.SignalAndWait();
                    foreach (ChannelShape shape in shapes)
                    {
                        foreach (CheckedPass pass in Passes)
                        {
                            try
                            {
                                ChannelPlace[] all = shape.Places(pass, colour: false),
                                    colour = shape.Places(pass, colour: true);
                                if (
                                    all.Length != 2
                                    || colour.Length != 1
                                    || all[0].Name != pass.Channels[0].Name
                                    || colour[0].Name != pass.Channels[0].Name
                                )
                                {
                                    Interlocked.Increment(ref wrong);
                                }
                            }
                            catch (ArgumentException)
                            {
                                Interlocked.Increment(ref wrong);
                            }
                        }
                    }
                })),
        ];
        Array.ForEach(rules, r => r.Start());
        Array.ForEach(rules, r => r.Join());
        Assert.Equal(0, wrong);
    }

    [Fact]
    public void Files_with_the_same_channels_have_one_shape()
    {
        var shapes = new ChannelShape.Finder();
        FileFacts alike = Facts(["R", "G"]),
            other = Facts(["R", "B"]),
            deeper = Facts(["R", "G"], ChannelType.Float);
        Assert.Same(shapes.Match(alike), shapes.Match(Facts(["R", "G"])));
        Assert.NotSame(shapes.Match(alike), shapes.Match(other));
        Assert.NotSame(shapes.Match(alike), shapes.Match(deeper));
        Assert.Equal("B", shapes.Match(other).Find(other, "B")!.Name);
        Assert.Null(shapes.Match(alike).Find(alike, "B"));
    }

    [Fact]
    public void Questions_about_a_pass_leave_out_channels_that_were_not_read()
    {
        FileFacts read = Facts(["R", "G", "B"]) is var facts
            ? facts with
            {
                Parts = [facts.Parts[0] with { Channels = [Read("R", 1, 4), Read("G", 2, 9), facts.Parts[0].Channels[2]] }],
            }
            : null!;
        var pass = new CheckedPass("beauty", null, [("R", ChannelType.Half), ("G", ChannelType.Half), ("B", ChannelType.Half)], 0);
        var samples = new PassSamples(new ChannelShape.Finder().Match(read).Places(pass, colour: false), read);
        Assert.Equal(["R", "G"], samples.Select(s => s.Channel));
        Assert.True(samples.Any() && samples.Any(s => s.Samples.Max == 9) && !samples.Any(s => s.Samples.Max > 9));
        Assert.True(samples.All(s => s.Samples.Mean > 0) && !samples.All(s => s.Samples.Mean > 1));
        Assert.Equal(
            (13L, 9d, 1.5),
            (samples.Sum(s => (long)s.Samples.Max), samples.Max(s => s.Samples.Max), samples.Average(s => s.Samples.Mean))
        );
        var none = new PassSamples([], read);
        Assert.True(!none.Any() && none.All(_ => false));
        Assert.Equal((0L, double.NegativeInfinity, 0d), (none.Sum(_ => 1), none.Max(_ => 1), none.Average(_ => 1)));
    }

    private static ChannelFacts Read(string name, double mean, double max) =>
        new()
        {
            Name = name,
            Type = ChannelType.Half,
            Samples = new SampleStatistics
            {
                Mean = mean,
                Max = max,
                Pixels = 4,
            },
        };

    private static FileFacts Facts(string[] channels, ChannelType type = ChannelType.Half) =>
        new()
        {
            Path = "a.0001.exr",
            Format = "exr",
            Readable = true,
            Parts =
            [
                new PartFacts
                {
                    Type = "scanlineimage",
                    Compression = "zip",
                    DisplayWindow = PixelBox.OfSize(2, 2),
                    DataWindow = PixelBox.OfSize(2, 2),
                    Channels = [.. channels.Select(c => new ChannelFacts { Name = c, Type = type }).ToImmutableArray()],
                },
            ],
        };
}
