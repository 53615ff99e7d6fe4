using DuneCrate.Checking.Intake;
using DuneCrate.Crates;
using DuneCrate.Foundation.Rules;
using DuneCrate.Imaging;

namespace DuneCrate.Checking.Tests.Outside;

/// <summary>
/// Files that hold one pass and call its channels R G B, Y or Z, as programs that write a file per pass do (common practice).
/// </summary>
public sealed class OnePassFilesTests(OutsideShot shot) : IClassFixture<OutsideShot>
{
    [Fact]
    public void Clean_files_have_no_finding_with_a_plan() => Assert.Empty(OutsideShot.Lines(shot.Check(), Severity.Note));

    [Fact]
    public void Clean_files_have_no_finding_without_a_plan() => Assert.Empty(OutsideShot.Lines(shot.Check(withPlan: false)));

    [Fact]
    public void Their_channels_are_measured_as_the_pass_that_they_are()
    {
        IntakeResult intake = Disk.Check(shot.Folder, OutsideShot.Plan, FactsDepth.Pixels, new NoFactsCache()).Intake;
        string Passes(string name) => string.Join(' ', intake.Facts[name].Parts[0].Passes!.Value.Select(p => p.Pass));
        Assert.Equal("ao", Passes("haze/haze_ao.1003.png"));
        Assert.Equal("normal", Passes("haze/haze_normal.1003.exr"));
        Assert.NotNull(intake.Facts["haze/haze_z.1003.exr"].Parts[0].Passes!.Value.Single(p => p.Pass == "depth").Depth);
    }

    [Fact]
    public void The_crate_says_what_the_files_hold()
    {
        IntakeResult intake = Disk.Check(shot.Folder, OutsideShot.Plan, FactsDepth.Pixels, new NoFactsCache()).Intake;
        var contents = Disk.Contents(OutsideShot.Plan, intake);
        var manifest = CrateDescription.Manifest(contents, "c", 1, DateTime.UnixEpoch, [], Guid.Empty, "");
        CratePass Of(string pass) => manifest.Passes.Single(p => p.Pass == pass);
        Assert.Equal("R half, G half, B half, A half; Premultiplied; scene-linear", Text(Of("beauty")));
        Assert.Equal("R uint8, G uint8, B uint8; None; sRGB", Text(Of("ao")));
        Assert.Equal("Y float; None; raw", Text(Of("depth")));
        Assert.Equal("Y uint8; None; raw", Text(Of("matte.hull")));
    }

    [Fact]
    public void A_viewer_finds_the_channels()
    {
        PlannedOutput depth = PlannedOutput.From(OutsideShot.Plan).Single(o => o.Passes[0].Pass == "depth");
        using PictureLines lines = PictureLines.Open(Disk.File(shot.File("z", 1005)), "exr", ["depth.Z"], ReadLimits.Default, depth.Held);
        Assert.Equal("depth.Z", Assert.Single(lines.Channels));
        float[] line = new float[96];
        Assert.True(lines.Read(20, [line], default));
        Assert.InRange(line[30], 9.9f, 10.1f);
        Assert.InRange(line[90], 29.9f, 30.1f);
    }

    [Theory]
    [InlineData("depth", "depth.Z", "Y", "depth.Z=Y")]
    [InlineData("depth", "depth.Z", "Z", "depth.Z=Z")]
    [InlineData("depth", "depth.Z", "R,G,B", "depth.Z=R")]
    [InlineData("depth", "Z", "V", "Z=V")]
    [InlineData("ao", "ao.R,ao.G,ao.B", "R,G,B,A", "ao.R=R ao.G=G ao.B=B")]
    [InlineData("ao", "ao.R,ao.G,ao.B", "Y", "ao.R=Y ao.G=Y ao.B=Y")]
    [InlineData("diffuse", "diffuse.R,diffuse.G,diffuse.B", "Y", "")]
    [InlineData("normal", "normal.X,normal.Y,normal.Z", "R,G,B", "normal.X=R normal.Y=G normal.Z=B")]
    [InlineData("motion", "motion.X,motion.Y", "R,G,B", "motion.X=R motion.Y=G")]
    [InlineData("matte.hull", "matte_hull.A", "Y", "matte_hull.A=Y")]
    [InlineData("coat", "coat.R,coat.G,coat.B,coat.A", "R,G,B", "coat.R=R coat.G=G coat.B=B")]
    [InlineData("uv", "uv.U,uv.V", "uv.U,uv.V,R", "uv.U=uv.U uv.V=uv.V")]
    [InlineData("depth", "depth.Z", "other.Z,other.W", "")]
    public void Planned_channels_find_the_stored_ones(string pass, string planned, string stored, string found) =>
        Assert.Equal(
            found,
            string.Join(
                ' ',
                HeldPass
                    .Create(pass, PassCatalogue.Shipped.Find(pass), planned.Split(','))!
                    .Match(stored.Split(','))
                    .Select(m => $"{m.Planned}={m.Stored}")
            )
        );

    [Theory]
    [InlineData("haze/haze_ao.", "ao", "haze/haze")]
    [InlineData("haze_ambient_occlusion.", "ao", "haze")]
    [InlineData("haze/haze_z_v003.", "depth", "haze/haze")]
    [InlineData("haze/matte_hull.", "matte.hull", "haze/")]
    [InlineData("haze/ao/frame.", "ao", "haze/")]
    [InlineData("haze/haze.", null, "")]
    public void The_name_of_a_file_tells_its_pass(string prefix, string? pass, string owner)
    {
        PassFromName.Split? split = PassFromName.SplitName(new Foundation.Naming.FrameName(prefix, ".png", 4), PassCatalogue.Shipped);
        Assert.Equal((pass, pass is null ? "" : owner), (split?.Key, split?.Owner ?? ""));
    }

    private static string Text(CratePass pass) =>
        $"{string.Join(", ", pass.Channels.Select(c => $"{c.Key} {c.Value.Name()}"))}; {pass.Alpha}; {pass.ColourSpace}";
}
