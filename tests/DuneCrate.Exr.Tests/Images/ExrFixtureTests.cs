using System.Buffers.Binary;
using DuneCrate.Checking.Intake;

namespace DuneCrate.Exr.Tests.Images;

/// <summary>
/// What no command line tool writes: small files that Fixtures/make.cpp made with the reference library, committed with it.
/// </summary>
public class ExrFixtureTests
{
    /// <summary>Paths of all fixtures.</summary>
    public static IEnumerable<string> All => Directory.EnumerateFiles(Path.GetDirectoryName(Fixture("x"))!, "*.exr").Order();

    private static string Fixture(string name) =>
        Path.Combine(Repository.Root, "tests", "DuneCrate.Exr.Tests", "Images", "Fixtures", name + ".exr");

    [Theory]
    [InlineData("none")]
    [InlineData("zip")]
    [InlineData("piz")]
    [InlineData("pxr24")]
    [InlineData("b44")]
    [InlineData("b44a")]
    [InlineData("dwaa")]
    public void Subsampled_channels_are_read_as_the_library_reads_them(string compression)
    {
        using ExrFile file = Disk.Exr(Fixture($"subsampled-{compression}")),
            plain = Disk.Exr(Fixture($"subsampled-{compression}.plain"));
        ExrImage found = ExrImage.Read(file, file.Parts[0], null, out string? problem, default),
            expected = ExrImage.Read(plain, plain.Parts[0], null, out _, default);
        Assert.Null(problem);
        Assert.Equal(["A", "BY", "RY", "Y"], found.Planes.Keys.Order());
        Assert.All(expected.Planes, p => Assert.Equal(p.Value, found.Planes[p.Key]));
    }

    [Fact]
    public void Subsampled_samples_stand_where_the_format_says()
    {
        using ExrFile file = Disk.Exr(Fixture("subsampled-none"));
        ExrImage image = ExrImage.Read(file, file.Parts[0], null, out _, default);
        foreach ((string name, int step) in new[] { ("Y", 1), ("RY", 2) })
        {
            for (int y = 0; y < 38; y++)
            {
                for (int x = 0; x < 40; x++)
                {
                    // The formula of make.cpp.
                    float value = 0.5f + 0.4f * MathF.Sin(x / step * 0.37f * step + name.Length) * MathF.Cos(y / step * 0.21f * step);
                    Assert.Equal((float)(Half)value, image.Planes[name][y * 40 + x], 0.0005f);
                }
            }
        }

        FileFacts facts = Facts("subsampled-none");
        Assert.Equal(40L * 38, facts.FindChannel("Y")!.Samples!.Pixels);
        Assert.Equal(20L * 19, facts.FindChannel("RY")!.Samples!.Pixels);
    }

    [Theory]
    [InlineData("deep-lines", "deepscanline")]
    [InlineData("deep-tiles", "deeptile")]
    public void Deep_samples_are_counted_and_their_pixels_named_as_not_checked(string name, string type)
    {
        FileFacts facts = Facts(name);
        Assert.True(facts.Readable);
        Assert.Equal(ImageProblem.Unsupported, facts.Trouble);
        Assert.Contains("deep pixels are not checked", facts.Problem);
        Assert.Equal((type, 300L), (facts.Parts[0].Type, facts.Parts[0].DeepSamples));
        Assert.Equal("Z", facts.Parts[0].Channels.Single().Name);
    }

    [Theory]
    [InlineData("lines-decreasing", ExrLineOrder.Decreasing)]
    [InlineData("tiles-random", ExrLineOrder.Random)]
    [InlineData("tiles-decreasing", ExrLineOrder.Decreasing)]
    public void The_order_in_the_file_does_not_matter(string name, ExrLineOrder order)
    {
        using ExrFile file = Disk.Exr(Fixture(name));
        Assert.Equal(order, file.Parts[0].LineOrder);
        Assert.Equal(
            Enumerable.Range(0, 1200).Select(i => (float)(Half)(i * 0.01f)),
            ExrImage.Read(file, file.Parts[0], null, out _, default).Planes["R"]
        );
        Assert.Null(Facts(name).Problem);
    }

    [Fact]
    public void Views_are_told_apart()
    {
        using var folder = new TempFolder();
        foreach (string name in new[] { "a", "b" })
        {
            TestImages.Write(folder, $"{name}.exr", TestImages.Make(PixelBox.OfSize(20, 20), ExrCompression.Zip, ("R", ChannelType.Half)));
        }

        Tool.Run("exrmultiview", "left", folder["a.exr"], "right", folder["b.exr"], folder["one-part.exr"]);
        PartFacts both = Facts(folder["one-part.exr"]).Parts.Single();
        Assert.Equal(["R", "right.R"], both.Channels.Select(c => c.Name));
        Assert.Equal(["beauty", "beauty"], both.Channels.Select(c => c.Pass));
        Assert.Equal(["left", "right"], both.Views!.Value.AsEnumerable());
        Tool.Run(
            "exrmultipart",
            "-combine",
            "-i",
            "-view",
            "left",
            folder["a.exr"],
            "-view",
            "right",
            folder["b.exr"],
            "-o",
            folder["parts.exr"]
        );
        Assert.Equal(["left", "right"], Facts(folder["parts.exr"]).Parts.Select(p => p.View));
    }

    /// <summary>
    /// Before version 2 of its block DWA had no table of channel rules but fixed names. The block of a newer file whose channels have those
    /// names is
    /// the same without the table, and the reference library reads it.
    /// </summary>
    [Fact]
    public void The_older_layout_of_dwa_is_read()
    {
        using var folder = new TempFolder();
        Tool.Oiio(
            "--pattern",
            "fill:topleft=0,0.1,0.2,1:topright=4,2,1,1:bottomleft=0.5,0.5,0.5,0.2:bottomright=1,9,30,0",
            "64x32",
            "4",
            "-d",
            "half",
            "--compression",
            "dwaa",
            "-o",
            folder["new.exr"]
        );
        byte[] bytes = File.ReadAllBytes(folder["new.exr"]);
        int at;
        using (ExrFile file = Disk.Exr(folder["new.exr"]))
        {
            at = (int)Assert.Single(file.ChunkTables[0]);
        }

        const int Head = 8,
            Counters = 11 * sizeof(ulong);
        int rules = BinaryPrimitives.ReadUInt16LittleEndian(bytes.AsSpan(at + Head + Counters));
        Assert.Equal(2ul, BinaryPrimitives.ReadUInt64LittleEndian(bytes.AsSpan(at + Head)));
        Assert.InRange(rules, 3, 1000);
        byte[] older = [.. bytes[..(at + Head + Counters)], .. bytes[(at + Head + Counters + rules)..]];
        BinaryPrimitives.WriteInt32LittleEndian(older.AsSpan(at + 4), BinaryPrimitives.ReadInt32LittleEndian(bytes.AsSpan(at + 4)) - rules);
        BinaryPrimitives.WriteUInt64LittleEndian(older.AsSpan(at + Head), 1);
        File.WriteAllBytes(folder["old.exr"], older);

        Tool.Run("exrmaketiled", "-z", "none", "-t", "256", "256", folder["old.exr"], folder["plain.exr"]);
        using ExrFile old = Disk.Exr(folder["old.exr"]),
            plain = Disk.Exr(folder["plain.exr"]);
        ExrImage found = ExrImage.Read(old, old.Parts[0], null, out string? problem, default),
            expected = ExrImage.Read(plain, plain.Parts[0], null, out _, default);
        Assert.Null(problem);
        Assert.All(
            expected.Planes,
            p => Assert.All(p.Value.Zip(found.Planes[p.Key]), v => Assert.Equal(v.First, v.Second, 0.004f * MathF.Abs(v.First)))
        );
    }

    private static FileFacts Facts(string name) =>
        Disk.Facts(File.Exists(name) ? name : Fixture(name), new FactsRequest(FactsDepth.Pixels));
}
