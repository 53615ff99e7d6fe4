using DuneCrate.Imaging;

namespace DuneCrate.Exr.Tests.Images;

/// <summary>What is written is read back, sample by sample and attribute by attribute.</summary>
public class ExrRoundTripTests
{
    private static readonly (string, ChannelType)[] Mixed =
    [
        ("R", ChannelType.Half),
        ("G", ChannelType.Half),
        ("B", ChannelType.Half),
        ("Z", ChannelType.Float),
        ("id.Y", ChannelType.UInt),
    ];

    public static TheoryData<string, int, int> Cases()
    {
        var cases = new TheoryData<string, int, int>();
        foreach (string compression in new[] { "none", "rle", "zips", "zip" })
        {
            foreach ((int width, int height) in new[] { (1, 1), (7, 5), (64, 33), (33, 16), (5, 17) })
            {
                cases.Add(compression, width, height);
            }
        }

        return cases;
    }

    [Theory]
    [MemberData(nameof(Cases))]
    public void Samples_survive(string compression, int width, int height)
    {
        using var folder = new TempFolder();
        ExrImage image = TestImages.Make(PixelBox.OfSize(width, height), ExrCompression.Find(compression)!, Mixed);
        AssertSame(image, TestImages.Write(folder, "a.exr", image));
    }

    [Theory]
    [InlineData(ExrLineOrder.Increasing)]
    [InlineData(ExrLineOrder.Decreasing)]
    [InlineData(ExrLineOrder.Random)]
    public void Line_orders_and_windows_survive(ExrLineOrder order)
    {
        using var folder = new TempFolder();
        ExrImage image = TestImages.Make(
            new PixelBox(-7, -20, 30, 25),
            new PixelBox(0, 0, 63, 47),
            ExrCompression.Zip,
            order,
            [],
            null,
            Mixed
        );
        string path = TestImages.Write(folder, "a.exr", image);
        AssertSame(image, path);
        using ExrFile file = Disk.Exr(path);
        Assert.Equal(order, file.Parts[0].LineOrder);
        Assert.Equal(new PixelBox(-7, -20, 30, 25), file.Parts[0].DataWindow);
        Assert.Equal(new PixelBox(0, 0, 63, 47), file.Parts[0].DisplayWindow);
        bool firstChunkFirst = file.ChunkTables[0][0] < file.ChunkTables[0][^1];
        Assert.Equal(order != ExrLineOrder.Decreasing, firstChunkFirst);
    }

    [Fact]
    public void Parts_survive_with_their_names()
    {
        using var folder = new TempFolder();
        ExrImage colour = TestImages.Make(
            PixelBox.OfSize(20, 40),
            PixelBox.OfSize(20, 40),
            ExrCompression.Zip,
            ExrLineOrder.Increasing,
            [],
            "colour",
            ("R", ChannelType.Half),
            ("G", ChannelType.Half)
        );
        ExrImage depth = TestImages.Make(
            PixelBox.OfSize(20, 40),
            PixelBox.OfSize(20, 40),
            ExrCompression.Find("rle")!,
            ExrLineOrder.Increasing,
            [],
            "depth",
            ("Z", ChannelType.Float)
        );
        using ExrFile file = Disk.Exr(TestImages.Write(folder, "a.exr", colour, depth));
        Assert.Equal(["colour", "depth"], file.Parts.Select(p => p.Name));
        foreach ((ExrImage image, ExrPart part) in new[] { colour, depth }.Zip(file.Parts))
        {
            AssertSame(image, ExrImage.Read(file, part, null, out string? problem, default));
            Assert.Null(problem);
        }
    }

    [Fact]
    public void Attributes_survive_in_order_with_unknown_types_byte_for_byte()
    {
        using var folder = new TempFolder();
        ExrAttribute[] attributes =
        [
            ExrAttribute.Text("owner", "Dune Crate stand-in"),
            ExrAttribute.Rational("framesPerSecond", new FrameRate(24000, 1001)),
            new ExrAttribute("com.example.weather", "weather", new byte[] { 1, 0, 255, 7 }),
            ExrAttribute.Int("take", -3),
            ExrAttribute.Float("focus", 2.5f),
            new ExrAttribute("empty", "string", Array.Empty<byte>()),
        ];
        ExrImage image = TestImages.Make(
            PixelBox.OfSize(4, 4),
            PixelBox.OfSize(4, 4),
            ExrCompression.None,
            ExrLineOrder.Increasing,
            attributes,
            null,
            ("R", ChannelType.Half)
        );
        using ExrFile file = Disk.Exr(TestImages.Write(folder, "a.exr", image));
        ExrAttribute[] read = [.. file.Parts[0].Attributes.TakeLast(attributes.Length)];
        Assert.Equal(
            attributes.Select(a => (a.Name, a.Type, Convert.ToHexString(a.Value.Span))),
            read.Select(a => (a.Name, a.Type, Convert.ToHexString(a.Value.Span)))
        );
        Assert.Equal(new FrameRate(24000, 1001), file.Parts[0].Find("framesPerSecond")!.AsRate());
        Assert.Equal(-3, file.Parts[0].Find("take")!.AsInt());
        Assert.Equal(2.5f, file.Parts[0].Find("focus")!.AsFloat());
        Assert.Null(file.Parts[0].Find("take")!.AsText());
    }

    [Fact]
    public void Long_names_survive()
    {
        using var folder = new TempFolder();
        string longName = new string('k', 200) + ".R";
        ExrImage image = TestImages.Make(PixelBox.OfSize(3, 3), ExrCompression.Zip, (longName, ChannelType.Half));
        string path = TestImages.Write(folder, "a.exr", image);

        // Long-name flag: OpenEXR File Layout, version field.
        Assert.Equal(0x400, BitConverter.ToInt32(File.ReadAllBytes(path), 4) & 0x400);
        AssertSame(image, path);
    }

    [Fact]
    public void A_header_longer_than_the_first_reading_is_read()
    {
        using var folder = new TempFolder();
        ExrAttribute large = ExrAttribute.Text("cryptomatte/1234567/manifest", new string('m', 300_000));
        ExrImage image = TestImages.Make(
            PixelBox.OfSize(8, 8),
            PixelBox.OfSize(8, 8),
            ExrCompression.Zip,
            ExrLineOrder.Increasing,
            [large],
            null,
            ("R", ChannelType.Half)
        );
        using ExrFile file = Disk.Exr(TestImages.Write(folder, "a.exr", image));
        Assert.Equal(300_000, file.Parts[0].Find("cryptomatte/1234567/manifest")!.Value.Length);
    }

    [Fact]
    public void The_same_image_gives_the_same_bytes()
    {
        using var folder = new TempFolder();
        ExrImage image = TestImages.Make(PixelBox.OfSize(40, 40), ExrCompression.Zip, Mixed);
        Assert.Equal(
            File.ReadAllBytes(TestImages.Write(folder, "a.exr", image)),
            File.ReadAllBytes(TestImages.Write(folder, "b.exr", image))
        );
    }

    [Fact]
    public void Probe_reads_one_pixel_of_every_channel()
    {
        using var folder = new TempFolder();
        ExrImage image = TestImages.Make(
            new PixelBox(10, 10, 49, 59),
            new PixelBox(0, 0, 99, 99),
            ExrCompression.Zip,
            ExrLineOrder.Increasing,
            [],
            null,
            Mixed
        );
        using ExrFile file = Disk.Exr(TestImages.Write(folder, "a.exr", image));
        IReadOnlyDictionary<string, float> probe = ExrImage.Probe(file, file.Parts[0], 12, 41);
        Assert.Equal(image.Planes["Z"][31 * 40 + 2], probe["Z"]);
        Assert.Equal((float)(Half)image.Planes["R"][31 * 40 + 2], probe["R"]);
        Assert.Empty(ExrImage.Probe(file, file.Parts[0], 9, 41));
    }

    [Fact]
    public void Unwritable_requests_are_refused()
    {
        using var folder = new TempFolder();
        ExrImage lossy = TestImages.Make(PixelBox.OfSize(4, 4), ExrCompression.Find("dwaa")!, ("R", ChannelType.Half));
        Assert.Throws<NotSupportedException>(() => ExrWriter.Write(Disk.File(folder["a.exr"]), lossy));
        Assert.False(File.Exists(folder["a.exr"]));
        Assert.Throws<ArgumentException>(() =>
            TestImages.Make(PixelBox.OfSize(4, 4), ExrCompression.None, ("R", ChannelType.Half), ("R", ChannelType.Float))
        );
    }

    private static void AssertSame(ExrImage image, string path)
    {
        using ExrFile file = Disk.Exr(path);
        AssertSame(image, ExrImage.Read(file, file.Parts[0], null, out string? problem, default));
        Assert.Null(problem);
    }

    private static void AssertSame(ExrImage image, ExrImage read)
    {
        Assert.Equal(image.Planes.Keys.Order(), read.Planes.Keys.Order());
        foreach (ExrChannel channel in image.Part.Channels)
        {
            float[] expected = image.Planes[channel.Name];
            Assert.Equal(
                channel.Type == ExrPixelType.Half ? [.. expected.Select(v => (float)(Half)v)] : expected,
                read.Planes[channel.Name]
            );
        }
    }
}
