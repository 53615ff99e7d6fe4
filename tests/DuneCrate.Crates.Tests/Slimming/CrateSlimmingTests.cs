using DuneCrate.Checking.Intake;
using DuneCrate.Crates.Recipes;
using DuneCrate.Crates.Slimming;
using DuneCrate.Imaging;

namespace DuneCrate.Crates.Tests.Slimming;

/// <summary>What could go without loss, of frames that oiiotool wrote; what is offered is taken and held against idiff.</summary>
public class CrateSlimmingTests
{
    private static readonly Plan Plan = PlanDocument
        .Read(
            """
            { "schema": "dune-crate.plan/1", "show": { "code": "KELP", "name": "The Kelp Post" },
              "shot": { "code": "KP060", "frames": "1001-1004", "frameRate": "24/1", "width": 96, "height": 64 },
              "layers": [ { "name": "buoy", "alpha": "premultiplied", "outputs": [
                { "template": "{layer}/{shot}_{layer}.{frame}.exr", "passes": [
                  { "pass": "beauty", "channels": { "R": "float", "G": "float", "B": "float", "A": "float" } },
                  { "pass": "emission", "channels": { "emission.R": "float", "emission.G": "float", "emission.B": "float" } } ] },
                { "template": "{layer}/{shot}_{layer}_noise.{frame}.exr", "passes": [
                  { "pass": "specular", "channels": { "specular.R": "float", "specular.G": "float", "specular.B": "float" } } ] } ] } ] }
            """
        )
        .Plan!;

    [Fact]
    public void Empty_passes_borders_halves_and_equal_frames_are_found_and_what_is_taken_loses_nothing()
    {
        using var folder = new TempFolder();
        string renders = Directory.CreateDirectory(folder["r"]).FullName;
        Directory.CreateDirectory(folder["r/buoy"]);
        for (int frame = 1001; frame <= 1004; frame++)
        {
            // Noise of halves in the middle of nothing; the same in 1002 and 1003.
            string seed = (frame == 1003 ? 1002 : frame).ToString(System.Globalization.CultureInfo.InvariantCulture);
            Tool.Oiio([
                "--create",
                "96x64",
                "4",
                "--create",
                "32x24",
                "4",
                $"--noise:type=uniform:min=0.1:max=0.9:seed={seed}",
                "-d",
                "half",
                "-o",
                folder["noise.exr"],
                folder["noise.exr"],
                "--paste",
                "+30+20",
                "--pop",
                folder["noise.exr"],
                "--create",
                "96x64",
                "4",
                "--paste",
                "+30+20",
                "--chnames",
                "R,G,B,A",
                "--create",
                "96x64",
                "3",
                "--chnames",
                "emission.R,emission.G,emission.B",
                "--chappend",
                "-d",
                "float",
                "--compression",
                "none",
                "-o",
                folder[$"r/buoy/KP060_buoy.{frame}.exr"],
            ]);
            // Floats that no half holds.
            Tool.Oiio([
                "--create",
                "96x64",
                "3",
                $"--noise:type=uniform:min=0.1:max=0.9:seed={frame + 50}",
                "--chnames",
                "specular.R,specular.G,specular.B",
                "-d",
                "float",
                "--compression",
                "zip",
                "-o",
                folder[$"r/buoy/KP060_buoy_noise.{frame}.exr"],
            ]);
        }

        (IntakeResult intake, var report) = Disk.Check(renders, Plan, FactsDepth.Pixels, new NoFactsCache());
        CrateContents contents = Disk.Contents(Plan, intake);
        Directory.CreateDirectory(folder["scratch"]);
        CrateSaving[] savings = [.. CrateSlimming.Find(contents, Disk.Folder(folder["scratch"]), ReadLimits.Default, default)];
        Assert.Empty(Directory.EnumerateFileSystemEntries(folder["scratch"]));
        CrateSaving Of(SavingKind kind) => Assert.Single(savings, s => s.Kind == kind);
        Assert.Equal("emission", Assert.Single(Of(SavingKind.Empty).With!.Drop!.Value));
        // 7 floats of 96 × 64, of which 32 × 24 hold something: seven eighths go.
        Assert.InRange(Of(SavingKind.Window).Bytes, 4 * 7 * 4 * (96 * 64 - 32 * 24) * 0.95, 4 * 7 * 4 * 96 * 64.0);
        Assert.NotNull(Of(SavingKind.Compression).With);
        // Beauty holds halves; specular, which is light, does not.
        Assert.Equal(PassKind.Combined, Assert.Single(Of(SavingKind.Half).With!.Types!).Key);
        Assert.Contains("1003", Of(SavingKind.Same).What, StringComparison.Ordinal);
        Assert.Equal(new FileInfo(folder["r/buoy/KP060_buoy.1003.exr"]).Length, Of(SavingKind.Same).Bytes);

        CrateRecipe slim = Of(SavingKind.Window).With! with { Types = Of(SavingKind.Half).With!.Types, Compression = "zip" };
        string crate = CrateBuilder
            .Seal(
                Disk.Contents(Plan, intake, recipe: slim),
                report with
                {
                    Findings = [],
                },
                Disk.Folder(folder["crates"]),
                Guid.NewGuid(),
                null,
                default
            )
            .Folder.FullPath;
        string made = Directory.GetFiles(crate, "buoy.1002.exr", SearchOption.AllDirectories).Single();
        Tool.Run("idiff", "-fail", "0", "-warn", "0", "-q", folder["r/buoy/KP060_buoy.1002.exr"], made);
        Assert.Contains("32 x   24", Tool.Run("oiiotool", "--info", made), StringComparison.Ordinal);
    }

    [Fact]
    public void Where_nothing_can_go_nothing_is_offered_twice()
    {
        using var shot = new Converting.DriftShot();
        CrateContents contents = shot.Contents("""{ "window": "content", "compression": "piz" }""");
        Directory.CreateDirectory(shot["scratch"]);
        CrateSaving[] savings = [.. CrateSlimming.Find(contents, Disk.Folder(shot["scratch"]), ReadLimits.Default, default)];
        Assert.DoesNotContain(savings, s => s.Kind is SavingKind.Window or SavingKind.Empty or SavingKind.Half);
    }
}
