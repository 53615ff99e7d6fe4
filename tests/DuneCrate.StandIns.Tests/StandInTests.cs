using DuneCrate.Exr;
using DuneCrate.Imaging.Cryptomatte;
using DuneCrate.StandIns.Demo;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.StandIns.Tests;

public class StandInTests
{
    private static readonly Plan Plan = StandInPlan.Create("KP010", FrameSet.Parse("1001-1002"), 64, 36);

    private static ExrImage Read(string path)
    {
        using ExrFile file = Disk.Exr(path);
        return ExrImage.Read(file, file.Parts[0], null, out _, default);
    }

    [Fact]
    public void The_same_frame_renders_to_the_same_bytes_and_the_next_differs()
    {
        using TempFolder a = new(),
            b = new();
        Disk.Render(Plan, a.Path, null, []);
        Disk.Render(Plan, b.Path, null, []);
        foreach (string file in Directory.EnumerateFiles(a.Path, "*.exr", SearchOption.AllDirectories))
        {
            Assert.Equal(File.ReadAllBytes(file), File.ReadAllBytes(b[Path.GetRelativePath(a.Path, file)]));
        }

        Assert.NotEqual(File.ReadAllBytes(a["sub/KP010_sub.1001.exr"]), File.ReadAllBytes(a["sub/KP010_sub.1002.exr"]));
    }

    [Fact]
    public void Light_passes_sum_to_the_beauty()
    {
        using var folder = new TempFolder();
        Disk.Render(Plan, folder.Path, FrameSet.Single(1001), []);
        foreach (LayerPlan layer in Plan.Layers)
        {
            ExrImage image = Read(folder[$"{layer.Name}/KP010_{layer.Name}.1001.exr"]);
            foreach (char c in "RGB")
            {
                for (int i = 0; i < image.Width * image.Height; i++)
                {
                    float sum = layer.Rebuild.Sum(t => image.Planes[$"{t}.{c}"][i]);
                    Assert.True(Math.Abs(sum - image.Planes[$"{c}"][i]) <= 0.004f * Math.Max(1, sum), $"{layer.Name} {c} at {i}");
                }
            }
        }
    }

    [Fact]
    public void Data_is_not_filtered_and_normals_have_unit_length()
    {
        using var folder = new TempFolder();
        Disk.Render(Plan, folder.Path, FrameSet.Single(1001), []);
        ExrImage data = Read(folder["sub_data/KP010_sub_data.1001.exr"]);
        Assert.Subset(new HashSet<float> { 0, 1, 2, 3, 4, 5 }, data.Planes["object_id.Y"].ToHashSet());
        for (int i = 0; i < data.Planes["Z"].Length; i++)
        {
            bool covered = data.Planes["object_id.Y"][i] > 0;
            float length = MathF.Sqrt("XYZ".Sum(a => data.Planes[$"normal.{a}"][i] * data.Planes[$"normal.{a}"][i]));
            Assert.Equal(covered ? 1 : 0, length, 2);
            Assert.Equal(covered, data.Planes["Z"][i] < 100);
        }
    }

    [Fact]
    public void Cryptomatte_carries_hashes_of_the_manifests_names_and_coverage_up_to_one()
    {
        using var folder = new TempFolder();
        Disk.Render(Plan, folder.Path, FrameSet.Single(1001), []);
        using ExrFile file = Disk.Exr(folder["sub_cryptomatte_object/KP010_sub_cryptomatte_object.1001.exr"]);
        string key = $"cryptomatte/{CryptomatteHash.LayerKey("CryptoObject")}/";
        Assert.Equal("MurmurHash3_32", file.Parts[0].Find(key + "hash")!.AsText());
        var manifest = System.Text.Json.JsonSerializer.Deserialize<Dictionary<string, string>>(
            file.Parts[0].Find(key + "manifest")!.AsText()!
        )!;
        var known = manifest.Values.Select(v => Convert.ToUInt32(v, 16)).Append(0u).ToHashSet();
        ExrImage image = ExrImage.Read(file, file.Parts[0], null, out _, default);
        Assert.All(image.Planes["CryptoObject00.R"], id => Assert.Contains(BitConverter.SingleToUInt32Bits(id), known));
        Assert.All(
            Enumerable.Range(0, 64 * 36),
            i => Assert.InRange(image.Planes["CryptoObject00.G"][i] + image.Planes["CryptoObject00.A"][i], 0, 1)
        );
        Assert.Contains(image.Planes["CryptoObject00.G"], g => g == 1);
    }

    [Fact]
    public void Layers_hold_each_other_out()
    {
        using var folder = new TempFolder();
        Disk.Render(Plan, folder.Path, FrameSet.Single(1001), []);
        float[] sub = Read(folder["sub/KP010_sub.1001.exr"]).Planes["A"],
            kelp = Read(folder["kelp/KP010_kelp.1001.exr"]).Planes["A"];
        Assert.All(sub.Zip(kelp), p => Assert.InRange(p.First + p.Second, 0, 1));
        Assert.Contains(kelp, a => a == 1);
    }

    [Theory]
    [InlineData("missing:sub", "KIND:LAYER:FRAMES")]
    [InlineData("melted:sub:1001", "is not a kind of fault")]
    [InlineData("missing:sub:abc", "is not a frame")]
    public void Faults_that_are_none_are_refused(string text, string part)
    {
        Assert.False(Fault.TryParse(text, out _, out string? problem));
        Assert.Contains(part, problem);
    }

    [Fact]
    public void A_fault_may_name_the_pass() =>
        Assert.True(Fault.TryParse("missing:seabed.depth:1-3", out Fault? fault, out _) && fault is { Layer: "seabed", Pass: "depth" });

    [Fact]
    public void The_demo_has_a_clean_a_faulty_and_a_half_rendered_shot()
    {
        Assert.Equal(["KP010", "KP020", "KP030"], DemoShow.Shots.Select(s => s.Code));
        Assert.Empty(DemoShow.Shots[0].Faults);
        Assert.True(DemoShow.Shots[1].Faults.Select(f => f.Kind).Distinct().Count() >= 10);
        Assert.Equal(DemoShow.Frames.Count / 2, DemoShow.Shots[2].Rendered.Count);
        Assert.All(DemoShow.Shots, s => Assert.Empty(PlanValidation.Check(s.Plan)));
    }
}
