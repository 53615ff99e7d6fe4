using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Reports;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Rules;

namespace DuneCrate.Checking.Tests.Outside;

/// <summary>Headers as other programs write them; the files are oiiotool's.</summary>
public sealed class HeaderDialectTests : IDisposable
{
    private readonly TempFolder _folder = new();

    /// <summary>OpenEXR 3.1 names cameraLabel; oiiotool writes FramesPerSecond with a capital.</summary>
    [Theory]
    [InlineData("--attrib FramesPerSecond 24000/1001", "24000/1001", null)]
    [InlineData("--attrib:type=rational FramesPerSecond 25/1", "25/1", null)]
    [InlineData("--attrib framespersecond 24", "24/1", null)]
    [InlineData("--attrib:type=float framesPerSecond 23.976", "24000/1001", null)]
    [InlineData("--attrib cameraLabel cam_main", null, "cam_main")]
    [InlineData("--attrib CameraName cam_main", null, "cam_main")]
    [InlineData("--attrib camera cam_b --attrib cameraLabel cam_a", null, "cam_a")]
    public void Rate_and_camera_are_read_under_the_names_in_use(string attributes, string? rate, string? camera)
    {
        Tool.Oiio(["--create", "8x8", "3", .. attributes.Split(' '), "-d", "half", "-o", _folder["a.exr"]]);
        PartFacts part = Facts("a.exr").Parts[0];
        Assert.Equal((rate, camera), (part.FrameRate?.ToString(), part.Camera));
    }

    [Fact]
    public void A_tiff_packed_with_deflate_is_packed_with_zip()
    {
        using var shot = new OutsideShot();
        Assert.Empty(shot.Check(depth: FactsDepth.Header).Findings);
        foreach (int frame in FrameSet.Parse("1002-1003"))
        {
            Tool.Oiio(shot.File("matte_hull", frame), "--compression", "lzw", "-o", shot.File("matte_hull", frame));
        }

        Finding finding = Assert.Single(shot.Check(depth: FactsDepth.Header).Findings, f => f.Rule == "format.compression");
        Assert.Equal(("1002-1003", "lzw"), (finding.Frames.ToString(), finding.Found));
    }

    /// <summary>The reference reader takes a file of one part by its flags (OpenEXR, ImfMultiPartInputFile.cpp) and opens it.</summary>
    [Fact]
    public void A_type_attribute_that_contradicts_the_flags_is_a_finding_and_the_file_is_read()
    {
        string[] names = ["a.1001.exr", "a.1002.exr", "a.1003.exr"];
        foreach (string name in names)
        {
            Tool.Oiio("--create", "8x8", "3", "--addc", "0.5", "--compression", "none", "-d", "half", "-o", _folder[name]);
        }

        AddAttribute(_folder["a.1002.exr"], "type\0string\0"u8, "deepscanline"u8);
        Tool.Oiio("--stats", _folder["a.1002.exr"]);

        CheckReport report = Disk.Check(_folder.Path, null, FactsDepth.Pixels, new NoFactsCache()).Report;
        Finding finding = Assert.Single(report.Findings, f => f.Rule == "format.contradiction");
        Assert.Equal(("1002", Severity.Warning), (finding.Frames.ToString(), finding.Severity));
        Assert.Contains("the type attribute says deepscanline, the version flags say scanlineimage", finding.Message);
        Assert.True(Facts("a.1002.exr").Readable);
    }

    [Theory]
    [InlineData("sea/sea.####.exr", "sea/sea.{frame}.exr", 4)]
    [InlineData("sea/sea_%05d.exr", "sea/sea_{frame}.exr", 5)]
    [InlineData("sea/sea.%d.exr", "sea/sea.{frame}.exr", 1)]
    [InlineData("sea/sea.{frame}.exr", "sea/sea.{frame}.exr", null)]
    [InlineData("sea/#1/sea.####.exr", "sea/#1/sea.####.exr", null)]
    public void A_frame_count_in_a_name_is_the_frame(string written, string template, int? padding) =>
        Assert.Equal((template, padding), NameTemplate.WithFrameToken(written));

    [Fact]
    public void A_plan_with_such_names_finds_its_files() =>
        Assert.Equal(
            ["haze/haze_beauty.####.exr", "haze/haze_z.####.exr", "haze/haze_normal.####.exr", "haze/haze_ao.####.png"],
            PlannedOutput.From(OutsideShot.Plan).Take(4).Select(o => o.Key)
        );

    public void Dispose() => _folder.Dispose();

    /// <summary>Puts an attribute before those of a picture of eight uncompressed lines, whose chunks then lie farther on.</summary>
    private static void AddAttribute(string path, ReadOnlySpan<byte> name, ReadOnlySpan<byte> text)
    {
        byte[] bytes = File.ReadAllBytes(path);
        int added = name.Length + sizeof(int) + text.Length,
            table = Enumerable.Range(0, bytes.Length - 64).First(p => BitConverter.ToInt64(bytes, p) == p + 64);
        for (int line = 0; line < 8; line++)
        {
            BitConverter.TryWriteBytes(bytes.AsSpan(table + 8 * line), BitConverter.ToInt64(bytes, table + 8 * line) + added);
        }

        File.WriteAllBytes(path, [.. bytes[..8], .. name, .. BitConverter.GetBytes(text.Length), .. text, .. bytes[8..]]);
    }

    private FileFacts Facts(string name) => Disk.Facts(_folder[name], new FactsRequest(FactsDepth.Header));
}
