using DuneCrate.Exr;
using DuneCrate.Imaging.Listing;

namespace DuneCrate.Imaging.Tests.Images;

/// <summary>Planes of pictures of every format, against the same picture turned into OpenEXR floats by Debian's oiiotool.</summary>
public sealed class PicturePlanesTests : IDisposable
{
    private static readonly string[] Rgba = ["R", "G", "B", "A"];

    private readonly TempFolder _folder = new();

    public void Dispose() => _folder.Dispose();

    [Theory]
    [InlineData("rgb.png", "-d uint8", true)]
    [InlineData("rgba.png", "-d uint8", true)]
    [InlineData("rgb16.png", "-d uint16", true)]
    [InlineData("rgba16.tif", "-d uint16 --compression zip", true)]
    [InlineData("rgb.tif", "-d float --compression zip --tile 32 32", false)]
    [InlineData("rgb.tga", "-d uint8 --compression rle", true)]
    [InlineData("rgba.tga", "-d uint8 --compression none", true)]
    [InlineData("rgb.exr", "-d float --compression zip", false)]
    [InlineData("rgba.exr", "-d float --compression piz --origin -3+9", false)]
    public void Planes_are_what_oiiotool_makes_of_the_file(string name, string arguments, bool isEncoded)
    {
        string path = Picture(name, arguments);
        string floats = _folder["floats.exr"];
        Tool.Oiio("--iconfig:type=int", "oiio:UnassociatedAlpha", "1", path, "-d", "float", "--compression", "none", "-o", floats);
        PicturePlanes found = Read(path),
            expected = Read(floats);
        Assert.Equal((expected.Window, isEncoded, null), (found.Window, found.IsEncoded, found.Problem));
        Assert.Equal(expected.Planes.Keys.Order(), found.Planes.Keys.Order());
        Assert.All(expected.Planes, p => Assert.All(p.Value.Zip(found.Planes[p.Key]), v => Assert.Equal(v.First, v.Second, 1e-6f)));
    }

    [Fact]
    public void Only_channels_that_are_asked_for_are_kept()
    {
        PicturePlanes found = Read(Picture("rgba.png", "-d uint8"), "A", "Z");
        Assert.Equal(["A"], found.Planes.Keys);
        Assert.Equal(found.Window.Width * found.Window.Height * sizeof(float), found.Bytes);
    }

    [Theory]
    [InlineData("rgb.png", "-d uint8")]
    [InlineData("rgb.exr", "-d half")]
    public void A_file_without_the_channels_says_so(string name, string arguments) =>
        Assert.Contains("it has none of Z", Assert.Throws<ImageException>(() => Read(Picture(name, arguments), "Z")).Reason);

    [Theory] // libvips gives nothing of a short PNG that is cut.
    [InlineData("rgb.png", "-d uint8", 0)]
    [InlineData("rgb.tga", "-d uint8 --compression none", 60)]
    [InlineData("rgb.exr", "-d half --compression zip", 60)]
    public void What_a_cut_file_still_holds_is_read(string name, string arguments, int lines)
    {
        string path = Picture(name, arguments);
        PicturePlanes whole = Read(path);
        using (FileStream stream = File.OpenWrite(path))
        {
            stream.SetLength(stream.Length * 2 / 3);
        }

        PicturePlanes cut = Read(path);
        Assert.NotNull(cut.Problem);
        Assert.Equal(whole.Window, cut.Window);
        int kept = whole.Planes["R"].Zip(cut.Planes["R"]).Count(v => v.First == v.Second);
        Assert.True(kept > lines * whole.Window.Width, $"only {kept} samples are left");
    }

    [Fact]
    public void Pixels_that_are_not_read_are_an_error_that_says_why()
    {
        // Truevision TGA 2.0: type 2, true colour, 2 × 2 pixels of 16 bits.
        string path = _folder["short.tga"];
        File.WriteAllBytes(path, [0, 0, 2, 0, 0, 0, 0, 0, 0, 0, 0, 0, 2, 0, 2, 0, 16, 0, 1, 2, 3, 4, 5, 6, 7, 8]);
        ImageException refused = Assert.Throws<ImageException>(() => Read(path));
        Assert.Equal(ImageProblem.Unsupported, refused.Problem);
    }

    [Fact]
    public void Another_format_than_the_name_says_is_an_error()
    {
        string path = _folder["truly.png"];
        File.Copy(Picture("rgb.tga", "-d uint8 --compression none"), path);
        Assert.Throws<ImageException>(() => Read(path));
    }

    [Theory] // 8 and 16 bits stand for k / 255 and k / 65535. Source: PNG, ISO/IEC 15948, sample depth scaling: the greatest sample is 1.
    [InlineData(ChannelType.UInt8, new byte[] { 0, 51, 255 }, new[] { 0f, 0.2f, 1f })]
    [InlineData(ChannelType.UInt16, new byte[] { 0, 0, 51, 51, 255, 255 }, new[] { 0f, 0.2f, 1f })]
    [InlineData(ChannelType.Half, new byte[] { 0, 0x3c, 0, 0xc0 }, new[] { 1f, -2f })]
    [InlineData(ChannelType.UInt, new byte[] { 7, 0, 0, 0, 0, 1, 0, 0 }, new[] { 7f, 256f })]
    public void Samples_of_every_type_become_floats(ChannelType type, byte[] stored, float[] floats)
    {
        float[] found = new float[floats.Length];
        SampleLine.ToFloats(stored, type, found);
        Assert.Equal(floats, found);
    }

    private string Picture(string name, string arguments)
    {
        string path = _folder[name];
        string channels = Path.GetFileNameWithoutExtension(name).StartsWith("rgba", StringComparison.Ordinal) ? "R,G,B,A" : "R,G,B";
        Tool.Oiio([
            "--pattern",
            "fill:topleft=0,0.1,0.2,1:topright=1,0.5,0.25,1:bottomleft=0.9,0,0.4,0.5:bottomright=0.3,0.8,1,0.25",
            "67x180",
            "4",
            "--ch",
            channels,
            "--chnames",
            channels,
            .. arguments.Split(' '),
            "--attrib:type=int",
            "oiio:UnassociatedAlpha",
            "1",
            "-o",
            path,
        ]);
        return path;
    }

    private static PicturePlanes Read(string path, params string[] channels)
    {
        using PictureLines lines = PictureLines.Open(
            Disk.File(path),
            IntakeFile.FormatOf(path),
            channels.Length == 0 ? Rgba : channels,
            ReadLimits.Default
        );
        return PicturePlanes.Read(lines, 1, isMean: true, null, default);
    }
}
