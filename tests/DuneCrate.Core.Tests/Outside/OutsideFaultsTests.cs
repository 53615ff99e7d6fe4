using DuneCrate.Core.Checks.Findings;
using DuneCrate.Core.Checks.Matching;
using DuneCrate.Core.Checks.Remedies;
using DuneCrate.Core.Checks.Reports;
using DuneCrate.Core.Intake;
using DuneCrate.Core.Rules;

namespace DuneCrate.Core.Tests.Outside;

/// <summary>Faults × files that oiiotool wrote: each is found in the right frames, with and without a plan, and nothing else is.</summary>
public sealed class OutsideFaultsTests : IDisposable
{
    private readonly OutsideShot _shot = new();

    /// <summary>Fault, whether there is a plan, rule, file, frames, a part of what is said.</summary>
    public static TheoryData<string, bool, string, string, string, string> Faults =>
        new()
        {
            { "nan", true, "pixels.nonfinite", "beauty", "1004", "32 NaN" },
            { "nan", false, "pixels.nonfinite", "beauty", "1004", "all inside 40, 20 to 43, 23" },
            { "firefly", true, "pixels.fireflies", "beauty", "1006", "400" },
            { "no alpha", false, "channels.alpha", "beauty", "1005", "Alpha is missing in frame 1005" },
            { "no blue", false, "channels.missing", "beauty", "1005", "B of beauty is missing in frame 1005" },
            { "half depth", false, "channels.type", "z", "1003", "most frames have" },
            { "half depth", true, "channels.type", "z", "1003", "float is planned" },
            { "packed", false, "format.drift", "z", "1007", "compression changes from zip to piz" },
            { "rate", false, "format.drift", "beauty", "1009", "frame rate changes from 24 fps to 25 fps" },
            { "size", false, "format.drift", "beauty", "1002", "display window" },
            { "copy", true, "files.copy", "beauty", "1008", "the same as 1003" },
            { "scene", true, "files.newer", "beauty", "1004-1005", "scene file haze_v002.scene instead of haze_v001.scene" },
            { "later", false, "files.newer", "z", "1006", "written later" },
            { "blurred depth", true, "depth.filtered", "z", OutsideShot.Range, "where nothing is" },
        };

    [Theory]
    [MemberData(nameof(Faults))]
    public void A_fault_is_found_where_it_is(string fault, bool withPlan, string rule, string pass, string frames, string said)
    {
        Plant(fault);
        CheckReport report = _shot.Check(withPlan);
        Finding[] found = [.. report.Findings.Where(f => f.Rule == rule)];
        Assert.True(found.Length > 0, $"{rule} is silent; found were {string.Join('\n', OutsideShot.Lines(report, Severity.Note))}");
        Finding finding = Assert.Single(found);
        Assert.Equal(frames, finding.Frames.ToString());
        Assert.StartsWith($"haze/haze_{pass}.", finding.Output);
        Assert.Contains(said, finding.Message);
        string[] others = [.. report.Findings.Where(f => f.Rule != rule && f.Severity == Severity.Blocker).Select(OutsideShot.Line)];
        Assert.Empty(others);
    }

    [Fact]
    public void What_is_wrong_in_one_frame_is_told_beside_what_is_wrong_in_all()
    {
        Rewrite("matte_hull", "tif", 1005, "-d", "uint16");
        Plan plan = new WriteCells([new CellText("haze", "matte.hull", "float")]).Apply(OutsideShot.Plan);
        CheckReport report = Disk.Check(_shot.Folder, plan, FactsDepth.Header, new NoFactsCache()).Report;
        Assert.Equal(
            ["1001-1004,1006-1012 matte_hull.A as uint8", "1005 matte_hull.A as uint16"],
            report.Findings.Where(f => f.Rule == "channels.type").Select(f => $"{f.Frames} {f.Found}")
        );
    }

    [Fact]
    public void Temporary_and_system_files_are_one_note()
    {
        foreach (string name in new[] { "Thumbs.db", ".DS_Store", "haze_z.1013.exr.tmp", "haze_z.1014.exr.part" })
        {
            File.WriteAllText(_shot[$"haze/{name}"], "");
        }

        Finding finding = Assert.Single(_shot.Check(depth: FactsDepth.Header).Findings);
        Assert.Equal(("files.stray", Severity.Note), (finding.Rule, finding.Severity));
        Assert.Contains("4 temporary or system files", finding.Message);
    }

    [Theory]
    [InlineData("haze_ao_1004.png", "names.template")]
    [InlineData("haze_a0.1004.png", "names.template")]
    [InlineData("haze_AO.1004.png", "names.case")]
    public void A_stray_is_tied_to_the_frame_that_it_would_fill_and_can_be_renamed(string name, string rule)
    {
        File.Move(_shot.File("ao", "png", 1004), _shot[$"haze/{name}"]);
        CheckReport report = _shot.Check(depth: FactsDepth.Header);
        Finding finding = Assert.Single(report.Findings);
        Assert.Equal((rule, "1004"), (finding.Rule, finding.Frames.ToString()));
        IntakeResult intake = Disk.Check(_shot.Folder, OutsideShot.Plan, FactsDepth.Header, new NoFactsCache()).Intake;
        Rename rename = Assert.Single(Renames.From(new CheckContext(OutsideShot.Plan, intake, DateTime.UtcNow)));
        Assert.Equal(($"haze/{name}", "haze/haze_ao.1004.png"), (rename.From, rename.To));
    }

    [Fact]
    public void A_plan_from_files_takes_passes_from_names_and_slips_to_their_sequence()
    {
        File.Move(_shot.File("ao", "png", 1004), _shot["haze/haze_ao_1004.png"]);
        IntakeResult intake = Disk.Check(_shot.Folder, null, FactsDepth.Header, new NoFactsCache()).Intake;
        Plan plan = PlanGuess.From(intake, new ShowPlan { Code = "KELP" }, "KP040")!;
        LayerPlan layer = Assert.Single(plan.Layers);
        Assert.Equal("haze", layer.Name);
        Assert.Equal(["ao", "beauty", "depth", "matte.hull", "normal"], layer.Passes.Select(p => p.Pass).Order());
        Assert.Equal(["R", "G", "B", "A"], layer.FindPass("beauty")!.Channels.Keys);
        Assert.All(PlannedOutput.From(plan), o => Assert.Equal(OutsideShot.Range, o.Frames.ToString()));
    }

    [Fact]
    public void Coverage_that_differs_because_normals_are_encoded_is_a_line_of_that_finding()
    {
        foreach (int frame in FrameSet.Parse(OutsideShot.Range))
        {
            Rewrite("normal", "exr", frame, "--mulc", "0.5", "--addc", "0.5");
        }

        CheckReport report = _shot.Check();
        Finding finding = Assert.Single(report.Findings, f => f.Severity <= Severity.Warning);
        Assert.Equal("normal.length", finding.Rule);
        Assert.Contains("covers other places", Assert.Single(finding.Follows!.Value));
    }

    /// <summary>A moving grained texture; the grain either changes from frame to frame or stands.</summary>
    [Theory]
    [InlineData("{FRAME_NUMBER}", 0.06, false)]
    [InlineData("7", 0.06, true)]
    [InlineData("7", 0.0, false)]
    public void Grain_that_stands_is_found_on_a_moving_texture_and_nothing_on_a_clean_one(string seed, double grain, bool found)
    {
        using var folder = new TempFolder();
        string texture = folder["texture.exr"];
        Tool.Oiio(
            "--create",
            "900x180",
            "3",
            "--noise:type=uniform:min=0:max=1:seed=1",
            "--blur",
            "9x9",
            "--addc",
            "0.1",
            "-d",
            "float",
            "-o",
            texture
        );
        string[] noise = grain > 0 ? ["--create", "320x180", "3", Noise(grain, seed), "--add"] : [];
        Tool.Oiio([
            "--frames",
            "1001-1006",
            texture,
            "--cut",
            "320x180+{(FRAME_NUMBER-1000)*7}+0",
            "--origin",
            "+0+0",
            "--fullpixels",
            .. noise,
            "--chnames",
            "R,G,B",
            "-d",
            "half",
            "-o",
            folder["sea.%04d.exr"],
        ]);
        File.Delete(texture);
        CheckReport report = Disk.Check(folder.Path, null, FactsDepth.Pixels, new NoFactsCache()).Report;
        Assert.Equal(found ? ["1002-1006"] : [], report.Findings.Where(f => f.Rule == "pixels.seed").Select(f => $"{f.Frames}"));
    }

    /// <summary>Two round things before a far ground: sharp as they were sampled, or filtered to half the size.</summary>
    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public void Depth_of_round_things_is_filtered_only_where_it_was(bool isFiltered)
    {
        using var folder = new TempFolder();
        string[] filter = isFiltered ? ["--resize:filter=triangle", "96x54"] : [];
        for (int frame = 1; frame <= 3; frame++)
        {
            WriteDepth(folder["z.pfm"], 192, 108, frame);
            Tool.Oiio([folder["z.pfm"], .. filter, "--chnames", "Z", "-d", "float", "-o", folder[$"ball_z.100{frame}.exr"]]);
        }

        CheckReport report = Disk.Check(folder.Path, null, FactsDepth.Pixels, new NoFactsCache()).Report;
        Assert.Equal(isFiltered ? ["1001-1003"] : [], report.Findings.Where(f => f.Rule == "depth.filtered").Select(f => $"{f.Frames}"));
    }

    /// <summary>Distances as a portable float map, which oiiotool reads; the lowest line first.</summary>
    private static void WriteDepth(string path, int width, int height, int frame)
    {
        (double X, double Y, double Radius, double Near)[] balls = [(60 + 3 * frame, 50, 30, 12), (140, 60 - frame, 22, 18)];
        using var file = new BinaryWriter(File.Create(path));
        file.Write(System.Text.Encoding.ASCII.GetBytes($"Pf\n{width} {height}\n-1.0\n"));
        for (int y = height - 1; y >= 0; y--)
        {
            for (int x = 0; x < width; x++)
            {
                double distance = 100;
                foreach ((double left, double top, double radius, double near) in balls)
                {
                    double inside = radius * radius - (x + 0.5 - left) * (x + 0.5 - left) - (y + 0.5 - top) * (y + 0.5 - top);
                    distance = inside > 0 ? Math.Min(distance, near - 0.15 * Math.Sqrt(inside)) : distance;
                }

                file.Write((float)distance);
            }
        }
    }

    private static string Noise(double deviation, string seed) =>
        FormattableString.Invariant($"--noise:type=gaussian:mean=0:stddev={deviation}:seed={seed}");

    public void Dispose() => _shot.Dispose();

    private void Plant(string fault)
    {
        switch (fault)
        {
            case "nan":
                // The root of what is below 0 is no number: green and blue of 4 × 4 pixels.
                Paste(
                    "beauty",
                    1004,
                    "--create",
                    "4x4",
                    "4",
                    "--chnames",
                    "R,G,B,A",
                    "--addc",
                    "0.4,-1,-1,1",
                    "--powc",
                    "1,0.5,0.5,1",
                    "+40+20"
                );
                break;
            case "firefly":
                Paste("beauty", 1006, "--create", "1x1", "4", "--chnames", "R,G,B,A", "--addc", "400,400,400,1", "+40+20");
                break;
            case "no alpha":
                Rewrite("beauty", "exr", 1005, "--ch", "R,G,B");
                break;
            case "no blue":
                Rewrite("beauty", "exr", 1005, "--ch", "R,G,A");
                break;
            case "half depth":
                Rewrite("z", "exr", 1003, "-d", "half");
                break;
            case "packed":
                Rewrite("z", "exr", 1007, "--compression", "piz");
                break;
            case "rate":
                Rewrite("beauty", "exr", 1009, "--attrib", "FramesPerSecond", "25/1");
                break;
            case "size":
                Rewrite("beauty", "exr", 1002, "--resize", "48x27");
                break;
            case "copy":
                File.Copy(_shot.File("beauty", "exr", 1003), _shot.File("beauty", "exr", 1008), overwrite: true);
                break;
            case "scene":
                Rewrite("beauty", "exr", 1004, "--attrib", "sceneFile", "haze_v002.scene");
                Rewrite("beauty", "exr", 1005, "--attrib", "sceneFile", "haze_v002.scene");
                break;
            case "later":
                File.SetLastWriteTimeUtc(_shot.File("z", "exr", 1006), DateTime.UtcNow.AddHours(3));
                break;
            case "blurred depth":
                foreach (int frame in FrameSet.Parse(OutsideShot.Range))
                {
                    Rewrite("z", "exr", frame, "--blur:kernel=box", "3x1");
                }

                break;
            default:
                throw new ArgumentException(fault);
        }
    }

    private void Rewrite(string pass, string extension, int frame, params string[] change)
    {
        string file = _shot.File(pass, extension, frame);
        DateTime written = File.GetLastWriteTimeUtc(file);
        Tool.Oiio([file, .. change, "-o", file]);
        File.SetLastWriteTimeUtc(file, written);
    }

    private void Paste(string pass, int frame, params string[] patchAndPlace)
    {
        string file = _shot.File(pass, "exr", frame);
        DateTime written = File.GetLastWriteTimeUtc(file);
        Tool.Oiio([.. patchAndPlace[..^1], file, "--paste", patchAndPlace[^1], "-d", "half", "-o", file]);
        File.SetLastWriteTimeUtc(file, written);
    }
}
