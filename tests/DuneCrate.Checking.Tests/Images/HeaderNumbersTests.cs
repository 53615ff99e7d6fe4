using System.Text;
using System.Text.Json;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Exr;

namespace DuneCrate.Checking.Tests.Images;

/// <summary>
/// Numbers in headers that are none. Sources: <em>OpenEXR File Layout</em>, predefined attribute types, for what each holds; RFC 8259, 6:
/// "Numeric values that cannot be represented in the grammar (such as Infinity and NaN) are not permitted."
/// </summary>
public sealed class HeaderNumbersTests : IDisposable
{
    private readonly TempFolder _folder = new();

    public static TheoryData<string, int, int, float> Types()
    {
        (string Type, int Size, int Count)[] types =
        [
            ("float", 4, 1),
            ("double", 8, 1),
            ("v2f", 4, 2),
            ("v3f", 4, 3),
            ("v2d", 8, 2),
            ("v3d", 8, 3),
            ("box2f", 4, 4),
            ("m33f", 4, 9),
            ("m33d", 8, 9),
            ("m44f", 4, 16),
            ("m44d", 8, 16),
            ("chromaticities", 4, 8),
            ("floatvector", 4, 5),
        ];
        var all = new TheoryData<string, int, int, float>();
        foreach ((string type, int size, int count) in types)
        {
            foreach (float bad in (float[])[float.NaN, float.PositiveInfinity, float.NegativeInfinity])
            {
                all.Add(type, size, count, bad);
            }
        }

        return all;
    }

    [Theory]
    [MemberData(nameof(Types))]
    public void A_number_that_is_none_makes_a_damaged_file_and_names_the_field(string type, int size, int count, float bad)
    {
        for (int at = 0; at < count; at++)
        {
            double[] numbers = [.. Enumerable.Range(0, count).Select(i => i == at ? bad : 0.25)];
            FileFacts facts = Written(new ExrAttribute("someField", type, Bytes(numbers, size)));
            Assert.True(facts.Readable);
            Assert.Equal(ImageProblem.Header, facts.Trouble);
            Assert.Contains("'someField'", facts.Problem);
            Assert.Equal(3, facts.Parts.Single().Channels.Length);
            Assert.NotNull(facts.Parts[0].Channels[0].Samples);
            AssertWritable(facts);
        }
    }

    /// <summary>Extremes and subnormals are numbers.</summary>
    [Theory]
    [MemberData(nameof(Types))]
    public void Extremes_are_numbers(string type, int size, int count, float bad)
    {
        Assert.False(float.IsFinite(bad));
        foreach (float number in (float[])[float.MaxValue, float.MinValue, float.Epsilon, -float.Epsilon, -0f])
        {
            FileFacts facts = Written(new ExrAttribute("someField", type, Bytes([.. Enumerable.Repeat((double)number, count)], size)));
            Assert.Null(facts.Problem);
            AssertWritable(facts);
        }
    }

    /// <summary>What the reference library refuses (Header::sanityCheck: "Invalid pixel aspect ratio in image header") is damage here
    /// too.</summary>
    [Theory]
    [InlineData(float.NaN, true)]
    [InlineData(float.PositiveInfinity, true)]
    [InlineData(0f, true)]
    [InlineData(-1f, true)]
    [InlineData(1e-7f, true)]
    [InlineData(1e7f, true)]
    [InlineData(float.Epsilon, true)]
    [InlineData(2f, false)]
    [InlineData(1e-5f, false)]
    public void The_aspect_of_pixels_has_bounds(float aspect, bool isDamage)
    {
        FileFacts facts = Patched("pixelAspectRatio", aspect);
        Assert.Equal(isDamage ? ImageProblem.Header : ImageProblem.None, facts.Trouble);
        Assert.Equal(isDamage, facts.Problem?.Contains("'pixelAspectRatio'", StringComparison.Ordinal) == true);
        Assert.Equal(isDamage ? 1 : aspect, facts.Parts[0].PixelAspectRatio);
        AssertWritable(facts);
    }

    [Fact]
    public void A_rate_over_nothing_is_damage()
    {
        FileFacts facts = Written(new ExrAttribute("framesPerSecond", "rational", new byte[] { 24, 0, 0, 0, 0, 0, 0, 0 }));
        Assert.Equal(ImageProblem.Header, facts.Trouble);
        Assert.Equal("the header field 'framesPerSecond' divides by 0", facts.Problem);
        Assert.Null(facts.Parts[0].FrameRate);
    }

    [Theory]
    [InlineData("nan")]
    [InlineData("1e400")]
    [InlineData("24/0")]
    [InlineData("-24")]
    [InlineData("99999999999999999999999")]
    public void A_rate_in_words_that_is_none_is_no_rate(string text)
    {
        FileFacts facts = Written(ExrAttribute.Text("framesPerSecond", text));
        Assert.Null(facts.Parts[0].FrameRate);
        AssertWritable(facts);
    }

    [Theory]
    [InlineData(float.MaxValue)]
    [InlineData(float.Epsilon)]
    [InlineData(float.NaN)]
    public void A_rate_as_a_fraction_out_of_reach_is_no_rate(float rate) =>
        Assert.Null(Written(ExrAttribute.Float("framesPerSecond", rate)).Parts[0].FrameRate);

    /// <summary>A check tells it as damage, by the field, beside what is right with the others.</summary>
    [Fact]
    public void A_check_says_which_field_it_is()
    {
        string shot = _folder["shot"];
        Directory.CreateDirectory(shot);
        for (int frame = 1001; frame <= 1004; frame++)
        {
            File.WriteAllBytes(Path.Combine(shot, $"a.{frame}.exr"), frame == 1003 ? Patch("pixelAspectRatio", float.NaN) : ToolFile());
        }

        Finding finding = Disk.Check(shot, null, FactsDepth.Header).Report.Findings.Single(f => f.Rule == "files.unreadable");
        Assert.Equal("1003", finding.Frames.ToString());
        Assert.Contains("a.1003.exr is damaged: the header field 'pixelAspectRatio' holds NaN", finding.Message);
    }

    [Fact]
    public void Facts_of_many_files_are_written_when_those_of_one_cannot_be()
    {
        FileFacts good = Written();
        FileFacts bad = good with { Path = "bad.exr", Parts = [good.Parts[0] with { RenderSeconds = double.NaN }] };
        JsonElement files = JsonDocument
            .Parse(new FactsDocument([.. Enumerable.Repeat(good, 499), bad]).Write())
            .RootElement.GetProperty("files");
        Assert.Equal(500, files.GetArrayLength());
        Assert.Equal(1, files.EnumerateArray().Count(f => f.GetProperty("problem").ValueKind == JsonValueKind.String));
        Assert.Equal("bad.exr", files[499].GetProperty("path").GetString());
    }

    public void Dispose() => _folder.Dispose();

    private static void AssertWritable(FileFacts facts) => JsonSerializer.SerializeToUtf8Bytes(facts, FactsDocument.Compact);

    private static byte[] Bytes(double[] numbers, int size) =>
        [.. numbers.SelectMany(n => size == 4 ? BitConverter.GetBytes((float)n) : BitConverter.GetBytes(n))];

    private FileFacts Written(params ExrAttribute[] attributes)
    {
        PixelBox window = PixelBox.OfSize(20, 12);
        return Disk.Facts(
            TestImages.Write(
                _folder,
                "own.exr",
                TestImages.Make(
                    window,
                    window,
                    ExrCompression.Find("zips")!,
                    ExrLineOrder.Increasing,
                    attributes,
                    null,
                    ("R", ChannelType.Half),
                    ("G", ChannelType.Half),
                    ("B", ChannelType.Half)
                )
            )
        );
    }

    private FileFacts Patched(string field, float number)
    {
        string path = _folder["patched.exr"];
        File.WriteAllBytes(path, Patch(field, number));
        return Disk.Facts(path);
    }

    /// <summary>A file that OpenImageIO wrote, with other bytes in one float field of its header.</summary>
    private byte[] Patch(string field, float number)
    {
        byte[] bytes = [.. ToolFile()];
        byte[] name = Encoding.ASCII.GetBytes($"{field}\0float\0\u0004\0\0\0");
        int at = bytes.AsSpan().IndexOf(name);
        Assert.True(at > 0);
        BitConverter.GetBytes(number).CopyTo(bytes, at + name.Length);
        return bytes;
    }

    private byte[] ToolFile()
    {
        string path = _folder["tool.exr"];
        Tool.Picture(path, "--pattern", "constant:color=0.1,0.2,0.3", "64x36", "3", "-d", "half");
        return File.ReadAllBytes(path);
    }
}
