using DuneCrate.Checking.Intake;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Statistics;

namespace DuneCrate.Exr.Tests.Images;

/// <summary>The reader against files that Debian's oiiotool writes, the writer read back by exrheader, exrinfo and oiiotool.</summary>
public class ExrAgainstToolsTests
{
    private const double Tolerance = 1e-5;

    [Theory]
    [InlineData("none", "half")]
    [InlineData("rle", "half")]
    [InlineData("zips", "half")]
    [InlineData("zip", "half")]
    [InlineData("none", "float")]
    [InlineData("rle", "float")]
    [InlineData("zips", "float")]
    [InlineData("zip", "float")]
    [InlineData("zip", "uint32")]
    [InlineData("rle", "uint32")]
    public void Statistics_equal_those_of_oiiotool(string compression, string type)
    {
        using var folder = new TempFolder();
        string path = folder["a.exr"];
        string[] picture =
            type == "uint32"
                ? ["--pattern", "fill:topleft=0.00002,0.00001,0.00003,0.00001:bottomright=0.00005,0.00004,0.00001,0.00009", "97x61", "4"]
                : ["--create", "97x61", "4", "--noise:type=gaussian:mean=0.7:stddev=1.3:seed=5"];
        var expected = Tool.StatsOfMade(path, [.. picture, "-d", type, "--compression", compression]);
        FileFacts facts = Disk.Facts(path, new FactsRequest(FactsDepth.Pixels));
        Assert.Null(facts.Problem);
        Assert.Equal(compression, facts.Parts[0].Compression);
        double scale = type == "uint32" ? uint.MaxValue : 1; // oiiotool shows whole numbers as shares of their range.
        Assert.Equal(4, facts.Parts[0].Channels.Length);
        foreach (ChannelFacts channel in facts.Parts[0].Channels)
        {
            SampleStatistics samples = channel.Samples!;
            (double min, double max, double mean, double deviation, long nan, long inf) = expected[channel.Name];
            AssertNear(min, samples.Min / scale);
            AssertNear(max, samples.Max / scale);
            AssertNear(mean, samples.Mean / scale);
            AssertNear(deviation, samples.StdDev / scale);
            Assert.Equal((nan, inf, 97L * 61), (samples.Nan, samples.Inf, samples.Pixels));
        }
    }

    /// <summary>A flat picture is what packs best: no limit against files that claim too much may stand in its way.</summary>
    [Theory]
    [InlineData("rle")]
    [InlineData("zips")]
    [InlineData("zip")]
    [InlineData("piz")]
    [InlineData("pxr24")]
    [InlineData("b44a")]
    [InlineData("dwaa")]
    [InlineData("dwab")]
    public void Flat_pictures_are_read_whole(string compression)
    {
        using var folder = new TempFolder();
        string path = folder["flat.exr"];
        foreach (string type in new[] { "half", "float" })
        {
            var expected = Tool.StatsOfMade(
                path,
                "--create",
                "2048x512",
                "16",
                "--fill:color=0.5,0.5,0.5,1,0,0,0,0,0.5,0.5,0.5,0.5,1,1,1,1",
                "2048x512",
                "-d",
                type,
                "--compression",
                compression
            );
            FileFacts facts = Facts(path);
            Assert.Null(facts.Problem);
            Assert.All(
                facts.Parts[0].Channels,
                c =>
                {
                    Assert.Equal(2048 * 512, c.Samples!.Pixels);
                    AssertNear(expected[c.Name].Min, c.Samples.Min);
                    AssertNear(expected[c.Name].Max, c.Samples.Max);
                }
            );
        }
    }

    [Fact]
    public void Samples_equal_those_of_oiiotool_to_the_bit()
    {
        using var folder = new TempFolder();
        string path = folder["a.exr"];
        Tool.Oiio("--create", "19x23", "3", "--noise:type=uniform:min=-2:max=9:seed=3", "-d", "float", "--compression", "zip", "-o", path);
        var expected = Tool.Samples(path);
        using ExrFile file = Disk.Exr(path);
        ExrImage image = ExrImage.Read(file, file.Parts[0], null, out _, default);
        Assert.Equal(19 * 23, expected.Count);
        foreach (((int x, int y), float[] rgb) in expected)
        {
            float[] ours = [image.Planes["R"][y * 19 + x], image.Planes["G"][y * 19 + x], image.Planes["B"][y * 19 + x]];
            Assert.All(rgb.Zip(ours), p => AssertNear(p.First, p.Second));
        }
    }

    [Fact]
    public void Data_window_offset_and_crop_are_read()
    {
        using var folder = new TempFolder();
        Tool.Oiio("--create", "40x30-10-5", "3", "--noise:seed=2", "--fullsize", "64x48+0+0", "-d", "half", "-o", folder["a.exr"]);
        PartFacts part = Disk.Facts(folder["a.exr"], new FactsRequest(FactsDepth.Pixels)).Parts[0];
        Assert.Equal(new PixelBox(-10, -5, 29, 24), part.DataWindow);
        Assert.Equal(PixelBox.OfSize(64, 48), part.DisplayWindow);
        Assert.Equal(40 * 30, part.Channels[0].Samples!.Pixels);
    }

    [Fact]
    public void Multi_part_files_of_oiiotool_are_read()
    {
        using var folder = new TempFolder();
        Tool.Oiio("--create", "32x20", "3", "--noise:seed=1", "-d", "half", "-o", folder["a.exr"]);
        Tool.Oiio("--create", "32x20", "3", "--noise:seed=9", "-d", "half", "-o", folder["b.exr"]);
        Tool.Oiio(folder["a.exr"], folder["b.exr"], "--siappend", "-d", "half", "-o", folder["m.exr"]);
        FileFacts both = Facts(folder["m.exr"]);
        Assert.Equal(2, both.Parts.Length);
        Assert.Equal(
            Facts(folder["a.exr"]).Parts[0].Channels.Select(c => c.Samples!.Hash),
            both.Parts[0].Channels.Select(c => c.Samples!.Hash)
        );
        Assert.Equal(
            Facts(folder["b.exr"]).Parts[0].Channels.Select(c => c.Samples!.Hash),
            both.Parts[1].Channels.Select(c => c.Samples!.Hash)
        );
    }

    [Theory]
    [InlineData("none", ExrLineOrder.Increasing)]
    [InlineData("rle", ExrLineOrder.Increasing)]
    [InlineData("zips", ExrLineOrder.Decreasing)]
    [InlineData("zip", ExrLineOrder.Increasing)]
    [InlineData("zip", ExrLineOrder.Decreasing)]
    [InlineData("piz", ExrLineOrder.Increasing)]
    [InlineData("piz", ExrLineOrder.Decreasing)]
    public void What_we_write_oiiotool_reads_with_the_same_statistics(string compression, ExrLineOrder order)
    {
        using var folder = new TempFolder();
        ExrImage image = TestImages.Make(
            new PixelBox(-3, 4, 40, 38),
            PixelBox.OfSize(64, 48),
            ExrCompression.Find(compression)!,
            order,
            [],
            null,
            ("R", ChannelType.Half),
            ("G", ChannelType.Half),
            ("B", ChannelType.Half),
            ("Z", ChannelType.Float)
        );
        string path = TestImages.Write(folder, "a.exr", image);
        var stats = Tool.Stats(path);
        foreach (string channel in new[] { "R", "G", "B", "Z" })
        {
            double[] values = [.. image.Planes[channel].Select(v => channel == "Z" ? v : (double)(Half)v)];
            AssertNear(values.Min(), stats[channel].Min);
            AssertNear(values.Max(), stats[channel].Max);
            AssertNear(values.Average(), stats[channel].Mean);
        }
    }

    [Theory]
    [InlineData("none")]
    [InlineData("rle")]
    [InlineData("zips")]
    [InlineData("zip")]
    [InlineData("piz")]
    public void Idiff_finds_no_difference_between_what_oiiotool_wrote_and_what_we_write_of_it(string compression)
    {
        using var folder = new TempFolder();
        string theirs = folder["theirs.exr"],
            ours = folder["ours.exr"];
        Tool.Oiio(
            "--pattern",
            "fill:topleft=0,0.1,0.2,1:topright=4,2,1,1:bottomleft=0.5,0.5,0.5,0.2:bottomright=-1,9,30,0",
            "131x77",
            "4",
            "--create",
            "131x77",
            "4",
            "--noise:type=gaussian:mean=0:stddev=0.2:seed=4",
            "--add",
            "-d",
            "half",
            "--compression",
            "zip",
            "-o",
            theirs
        );
        using (ExrFile file = Disk.Exr(theirs))
        {
            ExrImage image = ExrImage.Read(file, file.Parts[0], null, out _, default);
            ExrPart part = image.Part;
            ExrWriter.Write(
                Disk.File(ours),
                new ExrImage(
                    new ExrPart(part.Channels, part.DisplayWindow, part.DataWindow, ExrCompression.Find(compression)!, []),
                    image.Planes
                )
            );
        }

        Assert.Contains("PASS", Tool.Run("idiff", "-fail", "0", "-warn", "0", theirs, ours));
    }

    [Fact]
    public void Exrheader_and_exrinfo_read_our_headers()
    {
        using var folder = new TempFolder();
        ExrImage colour = TestImages.Make(
            PixelBox.OfSize(20, 40),
            PixelBox.OfSize(20, 40),
            ExrCompression.Zip,
            ExrLineOrder.Increasing,
            [ExrAttribute.Rational("framesPerSecond", new FrameRate(24000, 1001)), ExrAttribute.Text("cameraLabel", "cam_main")],
            "colour",
            ("R", ChannelType.Half),
            ("direct_diffuse.R", ChannelType.Half)
        );
        ExrImage depth = TestImages.Make(
            PixelBox.OfSize(20, 40),
            PixelBox.OfSize(20, 40),
            ExrCompression.Find("zips")!,
            ExrLineOrder.Increasing,
            [],
            "depth",
            ("Z", ChannelType.Float),
            ("id.Y", ChannelType.UInt)
        );
        string path = TestImages.Write(folder, "a.exr", colour, depth);
        string header = Tool.Run("exrheader", path);
        Assert.Contains("24000/1001", header);
        Assert.Contains("cam_main", header);
        Assert.Matches(@"direct_diffuse\.R, 16-bit floating-point", header);
        Assert.Matches(@"id\.Y, 32-bit unsigned integer", header);
        Assert.Matches(@"(?s)chunkCount.*3.*chunkCount.*40", header);
        Assert.Contains("'Z': float", Tool.Run("exrinfo", "-a", path));
    }

    [Fact]
    public void The_stand_ins_frames_pass_the_reference_tools()
    {
        using var folder = new TempFolder();
        Plan plan = DuneCrate.StandIns.Renderer.StandInPlan.Create("KP010", FrameSet.Single(1001), 64, 36);
        Disk.Render(plan, folder.Path, null, []);
        foreach (string path in Directory.EnumerateFiles(folder.Path, "*.exr", SearchOption.AllDirectories))
        {
            Assert.Matches("scanline|'R'|'Z'|channels", Tool.Run("exrinfo", path));
            FileFacts facts = Facts(path);
            Assert.All(
                Tool.Stats(path).Where(s => facts.FindChannel(s.Key)?.Type != ChannelType.UInt),
                s => Assert.True(s.Value.IsNear(facts.FindChannel(s.Key)!.Samples!, Tolerance), $"{s.Key}: {s.Value} expected")
            );
        }
    }

    [Fact]
    public void Non_finite_samples_are_counted_as_oiiotool_counts_them()
    {
        using var folder = new TempFolder();
        ExrImage image = TestImages.Make(
            PixelBox.OfSize(30, 30),
            ExrCompression.Zip,
            ("R", ChannelType.Half),
            ("G", ChannelType.Float),
            ("B", ChannelType.Half)
        );
        (image.Planes["R"][100], image.Planes["R"][101], image.Planes["G"][333], image.Planes["G"][800]) = (
            float.NaN,
            float.PositiveInfinity,
            float.NaN,
            float.NegativeInfinity
        );
        string path = TestImages.Write(folder, "a.exr", image);
        FileFacts facts = Facts(path);
        Assert.All(
            Tool.Stats(path),
            s =>
                Assert.True(
                    s.Value.IsNear(facts.FindChannel(s.Key)!.Samples!, Tolerance),
                    $"{s.Key}: {s.Value} expected, {facts.FindChannel(s.Key)!.Samples} found"
                )
        );

        Assert.Equal([10, 3], facts.FindChannel("R")!.Samples!.FirstNonFinite!);
        Assert.Equal([10, 3, 11, 3], facts.FindChannel("R")!.Samples!.NonFiniteBox!);
        Assert.Equal([3, 11, 20, 26], facts.FindChannel("G")!.Samples!.NonFiniteBox!);
    }

    private static FileFacts Facts(string path) => Disk.Facts(path, new FactsRequest(FactsDepth.Pixels));

    /// <summary>1e-5 relative, and the six decimals that oiiotool prints.</summary>
    private static void AssertNear(double expected, double found) =>
        Assert.True(Math.Abs(expected - found) <= Math.Max(Tolerance * Math.Abs(expected), 6e-7), $"{expected} expected, {found} found");
}
