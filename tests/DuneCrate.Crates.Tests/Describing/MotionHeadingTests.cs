using System.Globalization;
using DuneCrate.Checking.Intake;
using DuneCrate.Crates.Describing;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.Crates.Tests.Describing;

/// <summary>
/// Where motion vectors point, on noise that oiiotool moves by a known number of pixels from frame to frame, and on the stand-in's frames,
/// whose vectors are where the camera sees the next place minus where it sees this one.
/// </summary>
public sealed class MotionHeadingTests
{
    private static readonly Plan Noise = PlanDocument
        .Read(
            """
            { "schema": "dune-crate.plan/1", "show": { "code": "KELP", "name": "The Kelp Post" },
              "shot": { "code": "KP070", "frames": "1001-1003", "frameRate": "24/1", "width": 96, "height": 64 },
              "layers": [ { "name": "skiff", "outputs": [
                { "template": "{shot}_{layer}.{frame}.exr", "passes": [
                  { "pass": "beauty", "channels": { "R": "half", "G": "half", "B": "half" } } ] },
                { "template": "{shot}_{layer}_motion.{frame}.exr", "passes": [
                  { "pass": "motion", "channels": { "motion.X": "half", "motion.Y": "half" } } ] } ] } ] }
            """
        )
        .Plan!;

    [Theory]
    [InlineData(3, 2, 3, 2, "next frame", "down")]
    [InlineData(3, 2, 3, -2, "next frame", "up")]
    [InlineData(3, 2, -3, -2, "frame before", "down")]
    [InlineData(3, 2, -3, 2, "frame before", "up")]
    [InlineData(4, 0, 4, 0, "next frame", null)]
    [InlineData(0, 3, 0, 3, null, null)] // Backwards and up would look the same.
    [InlineData(0, 0, 3, 2, null, null)] // Nothing moves, whatever the vectors say.
    [InlineData(3, 2, 0, 0, null, null)]
    public void Vectors_are_followed_into_the_next_frame(int right, int down, int x, int y, string? points, string? vertical)
    {
        using var folder = new TempFolder();
        string renders = Directory.CreateDirectory(folder["r"]).FullName;
        for (int i = 0; i < 3; i++)
        {
            Tool.Oiio([
                "--create",
                "96x64",
                "3",
                "--noise:type=uniform:min=0.1:max=0.9:seed=7",
                "--blur",
                "3x3",
                "--cshift",
                string.Create(CultureInfo.InvariantCulture, $"+{i * right}+{i * down}"),
                "-d",
                "half",
                "-o",
                Path.Combine(renders, $"KP070_skiff.{1001 + i}.exr"),
                "--pattern",
                string.Create(CultureInfo.InvariantCulture, $"constant:color={x},{y}"),
                "96x64",
                "2",
                "--chnames",
                "motion.X,motion.Y",
                "-d",
                "half",
                "-o",
                Path.Combine(renders, $"KP070_skiff_motion.{1001 + i}.exr"),
            ]);
        }

        Assert.Equal(points is null ? null : new MotionHeading(points, vertical), HeadingOf(Noise, renders, "skiff"));
    }

    [Theory]
    [InlineData(float.MaxValue)]
    [InlineData(-float.MaxValue)]
    [InlineData(float.PositiveInfinity)]
    [InlineData(float.NaN)]
    public void Vectors_that_lead_nowhere_say_nothing(float length)
    {
        float[] light = [.. Enumerable.Range(0, 64 * 64).Select(i => i * 7919 % 977 / 977f)],
            vectors = [.. light.Select(_ => length)],
            still = new float[light.Length];
        Assert.Null(MotionHeading.Find(light, light, vectors, still, 64));
        Assert.Null(MotionHeading.Find(light, light, still, vectors, 64));
    }

    [Fact]
    public void Beauty_that_does_not_open_says_nothing()
    {
        using var folder = new TempFolder();
        Plan plan = StandInPlan.Create("KP010", FrameSet.Parse("1001-1002"), 64, 36);
        Disk.Render(plan, folder["r"], null, []);
        PlannedOutput beauty = PlannedOutput.From(plan).First(o => o.Layer.Name == "sub" && o.Passes.Any(p => p.Pass == "beauty"));
        foreach (int frame in (int[])[1001, 1002])
        {
            File.WriteAllText(Path.Combine(folder["r"], beauty.Name.At(frame)), "no picture");
        }

        Assert.Null(HeadingOf(plan, folder["r"], "sub"));
    }

    [Fact]
    public void Stand_in_points_to_the_next_frame_and_down()
    {
        using var folder = new TempFolder();
        Plan plan = StandInPlan.Create("KP010", FrameSet.Parse("1001-1002"), 192, 108);
        Disk.Render(plan, folder["r"], null, []);
        Assert.Equal(new MotionHeading("next frame", "down"), HeadingOf(plan, folder["r"], "sub"));
    }

    private static MotionHeading? HeadingOf(Plan plan, string renders, string layer)
    {
        (IntakeResult intake, _) = Disk.Check(renders, plan, FactsDepth.Pixels, new NoFactsCache());
        CrateManifest manifest = CrateDescription.Manifest(Disk.Contents(plan, intake), "c", 1, DateTime.UnixEpoch, [], Guid.Empty, "");
        return manifest.Passes.Single(p => p.Layer == layer && p.Pass == "motion").Measured?.Heading;
    }
}
