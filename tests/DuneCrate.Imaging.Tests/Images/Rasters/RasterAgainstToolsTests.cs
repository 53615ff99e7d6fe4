using System.Globalization;
using System.Text.RegularExpressions;
using DuneCrate.Checking.Intake;
using DuneCrate.Imaging.Listing;
using DuneCrate.Imaging.Statistics;
using NetVips;

namespace DuneCrate.Imaging.Tests.Images.Rasters;

/// <summary>PNG, TIFF, JPEG and TGA that Debian's oiiotool writes, against its own statistics and against libvips.</summary>
public sealed class RasterAgainstToolsTests : IDisposable
{
    private readonly TempFolder _folder = new();

    public static TheoryData<string, string, string, ChannelType, string?, string> Pictures() =>
        new()
        {
            { "rgb8.png", "RGB", "-d uint8", ChannelType.UInt8, null, "image" },
            { "rgba8.png", "RGBA", "-d uint8", ChannelType.UInt8, "straight", "image" },
            { "rgba16.png", "RGBA", "-d uint16", ChannelType.UInt16, "straight", "image" },
            { "grey8.png", "Y", "-d uint8", ChannelType.UInt8, null, "image" },
            { "grey16.png", "Y", "-d uint16", ChannelType.UInt16, null, "image" },
            { "rgb8.tif", "RGB", "-d uint8 --compression lzw", ChannelType.UInt8, null, "strips" },
            { "rgba16.tif", "RGBA", "-d uint16 --compression zip", ChannelType.UInt16, "premultiplied", "strips" },
            {
                "rgba16u.tif",
                "RGBA",
                "-d uint16 --compression packbits --attrib:type=int oiio:UnassociatedAlpha 1",
                ChannelType.UInt16,
                "straight",
                "strips"
            },
            { "float.tif", "RGBA", "-d float --compression none", ChannelType.Float, "premultiplied", "strips" },
            { "tiled.tif", "RGB", "-d float --compression zip --tile 32 32", ChannelType.Float, null, "tiles" },
            { "tiled8.tif", "RGB", "-d uint8 --compression lzw --tile 16 16", ChannelType.UInt8, null, "tiles" },
            { "rgb.jpg", "RGB", "-d uint8 --quality 90", ChannelType.UInt8, null, "image" },
            { "rgb.tga", "RGB", "-d uint8 --compression none", ChannelType.UInt8, null, "image" },
            { "rgbrle.tga", "RGB", "-d uint8 --compression rle", ChannelType.UInt8, null, "image" },
            { "rgbarle.tga", "RGBA", "-d uint8 --compression rle", ChannelType.UInt8, "straight", "image" },
            {
                "rgba.tga",
                "RGBA",
                "-d uint8 --compression none --attrib:type=int oiio:UnassociatedAlpha 1",
                ChannelType.UInt8,
                "straight",
                "image"
            },
        };

    [Theory]
    [MemberData(nameof(Pictures))]
    public void Statistics_are_those_of_oiiotool(
        string name,
        string channels,
        string arguments,
        ChannelType type,
        string? alpha,
        string storage
    )
    {
        string path = Write(name, channels.Length, arguments);
        PartFacts part = Facts(path).Parts[0];
        Assert.Equal((channels, storage, alpha), (string.Concat(part.Channels.Select(c => c.Name)), part.Type, part.Alpha));
        Assert.All(part.Channels, c => Assert.Equal(type, c.Type));

        // oiiotool shows whole numbers up to the greatest of their type; it multiplies straight colour by alpha unless told otherwise.
        string text = Tool.Oiio([
            .. alpha == "straight" ? ["--iconfig:type=int", "oiio:UnassociatedAlpha", "1"] : Array.Empty<string>(),
            "--info",
            "-v",
            "--stats",
            path,
        ]);
        double scale = type switch
        {
            ChannelType.UInt8 => 255,
            ChannelType.UInt16 => 65535,
            _ => 1,
        };
        double[] Line(string label) =>
            [
                .. Regex
                    .Match(text, $@"Stats {label}: ([^\n(]*)")
                    .Groups[1]
                    .Value.Split(' ', StringSplitOptions.RemoveEmptyEntries)
                    .Select(v => double.Parse(v, CultureInfo.InvariantCulture) / scale),
            ];
        double[] min = Line("Min"),
            max = Line("Max"),
            mean = Line("Avg"),
            deviation = Line("StdDev");
        foreach ((ChannelFacts channel, int c) in part.Channels.Select((c, i) => (c, i)))
        {
            SampleStatistics samples = channel.Samples!;
            void Near(double expected, double found) =>
                Assert.InRange(
                    found,
                    expected - 1e-6 * Math.Abs(expected) - 6e-3 / scale,
                    expected + 1e-6 * Math.Abs(expected) + 6e-3 / scale
                );
            Near(min[c], samples.Min);
            Near(max[c], samples.Max);
            Near(mean[c], samples.Mean);
            Near(deviation[c], samples.StdDev);
        }
    }

    [Theory]
    [InlineData("rgb8.png", 3, "-d uint8", 255)]
    [InlineData("rgba16.png", 4, "-d uint16", 65535)]
    [InlineData("float.tif", 4, "-d float --compression zip --attrib:type=int oiio:UnassociatedAlpha 1", 1)]
    [InlineData("grey32.tif", 1, "-d uint32 --compression zip", 1)]
    [InlineData("rgb16.tif", 3, "-d uint16 --compression lzw --tile 32 32", 65535)]
    public void Statistics_are_those_of_libvips(string name, int channels, string arguments, double scale)
    {
        string path = Write(name, channels, arguments);
        using Image picture = Image.NewFromFile(path);

        // Columns of vips_stats: minimum, maximum, sum, sum of squares, mean, deviation of the sample (n − 1); the first row is of all
        // bands.
        double[] stats =
        [
            .. Enumerable
                .Range(1, channels)
                .SelectMany(band => Enumerable.Range(0, 6).Select(column => picture.Stats()[0][column, band][0])),
        ];
        double pixels = picture.Width * picture.Height;
        foreach ((SampleStatistics samples, int c) in Facts(path).Parts[0].Channels.Select((c, i) => (c.Samples!, i)))
        {
            Assert.Equal(stats[6 * c] / scale, samples.Min, 1e-9);
            Assert.Equal(stats[6 * c + 1] / scale, samples.Max, 1e-9);
            Assert.Equal(1, samples.Mean / (stats[6 * c + 4] / scale), 1e-9);
            Assert.Equal(1, samples.StdDev / (stats[6 * c + 5] / scale * Math.Sqrt((pixels - 1) / pixels)), 1e-6);
        }
    }

    [Theory]
    [InlineData("a.png", "-d uint16")]
    [InlineData("a.tif", "-d float --compression zip")]
    [InlineData("a.jpg", "-d uint8")]
    [InlineData("a.tga", "-d uint8 --compression rle")]
    public void A_picture_cut_short_keeps_its_header_and_says_so(string name, string arguments)
    {
        string path = Write(name, 3, arguments);
        byte[] bytes = File.ReadAllBytes(path);
        File.WriteAllBytes(path, bytes[..(bytes.Length * 3 / 5)]);
        FileFacts facts = Facts(path);
        Assert.NotNull(facts.Problem);
        if (!name.EndsWith("tif", StringComparison.Ordinal)) // A TIFF's header may lie at its end.
        {
            Assert.True(facts.Readable);
            Assert.Equal((131L, 77L), (facts.Parts[0].DataWindow.Width, facts.Parts[0].DataWindow.Height));
        }
    }

    [Theory]
    [InlineData("a.png", "a.exr", "the file is named OpenEXR and is PNG")]
    [InlineData("a.jpg", "a.png", "the file is named PNG and is JPEG")]
    [InlineData("a.exr", "a.tif", "the file is named TIFF and is OpenEXR")]
    public void A_name_that_promises_another_format_is_found(string made, string named, string problem)
    {
        string path = Path.Combine(_folder.Path, named);
        File.Move(Write(made, 3, made.EndsWith("exr", StringComparison.Ordinal) ? "-d half" : "-d uint8"), path);
        FileFacts facts = Facts(path);
        Assert.False(facts.Readable);
        Assert.Contains(problem, facts.Problem, StringComparison.Ordinal);
        Assert.Equal(IntakeFile.FormatOf(made), facts.Format);
    }

    [Fact]
    public void Further_pictures_of_a_tiff_are_counted()
    {
        string path = _folder["pages.tif"];
        Tool.Oiio("--create", "40x30", "3", "--create", "40x30", "3", "--create", "40x30", "3", "--siappendall", "-o", path);
        Assert.Equal(2, Facts(path).Parts[0].FurtherPictures);
    }

    [Fact]
    public void Pixels_of_another_aspect_are_told_by_png_and_tiff()
    {
        foreach (string name in new[] { "wide.png", "wide.tif" })
        {
            string path = _folder[name];
            Tool.Oiio(
                "--create",
                "40x30",
                "3",
                "-d",
                "uint8",
                "--attrib:type=float",
                "PixelAspectRatio",
                "2",
                "--attrib:type=float",
                "XResolution",
                "100",
                "--attrib:type=float",
                "YResolution",
                "200",
                "--attrib",
                "ResolutionUnit",
                "in",
                "-o",
                path
            );
            Assert.Equal(2, Facts(path).Parts[0].PixelAspectRatio, 0.02);
        }
    }

    private string Write(string name, int channels, string arguments)
    {
        string path = _folder[name];
        string[] names = channels switch
        {
            1 => ["--ch", "R"],
            3 => ["--ch", "R,G,B"],
            _ => [],
        };
        Tool.Oiio([
            "--pattern",
            "fill:topleft=0,0.1,0.2,1:topright=0.4,1,0.1,0.7:bottomleft=0.5,0.5,0.5,0.2:bottomright=0,0.9,0.3,0",
            "131x77",
            "4",
            "--fill:color=0.25,0.5,1,1",
            "40x30+60+40",
            .. names,
            .. arguments.Split(' '),
            "-o",
            path,
        ]);
        return path;
    }

    private static FileFacts Facts(string path) => Disk.Facts(path, new FactsRequest(FactsDepth.Pixels));

    public void Dispose() => _folder.Dispose();
}
