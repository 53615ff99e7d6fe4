using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Intake.Gathering;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Rebuild;
using DuneCrate.Checking.Remedies;
using DuneCrate.Checking.Reports;
using DuneCrate.Foundation.Rules;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;

namespace DuneCrate.Checking.Tests.Outside;

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
            { "inf", true, "pixels.nonfinite", "beauty", "1004", "4 infinite" },
            { "negative", true, "pixels.negative", "beauty", "1005", "64" },
            { "aspect", false, "format.drift", "beauty", "1005", "aspect" },
            { "window", true, "format.data-window", "z", "1005", "10, 10 to 69, 39" },
            { "primaries", false, "format.drift", "beauty", "1005", "chromaticities change from none to 0.713" },
            { "black", true, "pixels.black", "beauty", "1007", "black" },
            { "brighter", true, "pixels.flicker", "beauty", "1006", "bright" },
            { "glow outside", true, "alpha.premultiplied", "beauty", OutsideShot.Range, "alpha" },
            { "alpha above 1", true, "alpha.range", "beauty", "1008", "1.5" },
            { "alpha of 1", true, "alpha.solid", "beauty", OutsideShot.Range, "1 everywhere" },
            { "long normals", true, "normal.length", "normal", OutsideShot.Range, "mean length is 1.6" },
            { "eight bit", true, "pixels.depth", "beauty", OutsideShot.Range, "levels" },
            { "lower-case", true, "channels.name", "beauty", OutsideShot.Range, "came as " },
            { "extra channel", false, "channels.extra", "beauty", "1005", "mask" },
            { "flat depth", true, "depth.range", "z", OutsideShot.Range, "the same everywhere" },
            { "repeated picture", true, "pixels.repeat", "beauty", "1004", "the same picture as the frame before" },
            { "missing", true, "frames.missing", "beauty", "1006", "1006" },
            { "missing", false, "frames.gap", "beauty", "1006", "1006" },
            { "missing at the end", true, "frames.missing", "ao", "1012", "1012" },
            { "cut short", true, "files.truncated", "beauty", "1006", "lines" },
            { "cut short tiff", true, "files.truncated", "matte_hull", "1006", "cut short" },
            { "cut short png", true, "files.truncated", "ao", "1006", "cut short" },
            { "empty", true, "files.unreadable", "z", "1004", "empty" },
            { "not a picture", false, "files.unreadable", "z", "1004", "haze_z.1004.exr" },
            { "one too many", true, "frames.extra", "beauty", "1013", "1013" },
            { "padding", true, "names.padding", "beauty", "1005", "digits" },
            { "twice", true, "frames.duplicate", "beauty", "1005", "1005" },
            { "output missing", true, "outputs.missing", "ao", OutsideShot.Range, "haze_ao" },
            { "not planned", true, "outputs.unplanned", "uv", OutsideShot.Range, "haze_uv" },
        };

    [Theory]
    [MemberData(nameof(Faults))]
    public void A_fault_is_found_where_it_is(string fault, bool withPlan, string rule, string pass, string frames, string said)
    {
        OutsideFaults.All[fault](_shot);
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
        _shot.Rewrite("matte_hull", 1005, "-d", "uint16");
        Plan plan = new WriteCells([new CellText("haze", "matte.hull", "float")]).Apply(OutsideShot.Plan);
        CheckReport report = Disk.Check(_shot.Folder, plan, FactsDepth.Header, new NoFactsCache()).Report;
        Assert.Equal(
            ["1001-1004,1006-1012 matte_hull.A as uint8", "1005 matte_hull.A as uint16"],
            report.Findings.Where(f => f.Rule == "channels.type").Select(f => $"{f.Frames} {f.Found}")
        );
    }

    /// <summary>The rest of a file comes after it was read and before it is judged.</summary>
    [Theory]
    [InlineData("beauty")]
    [InlineData("matte_hull")]
    [InlineData("ao")]
    public void A_file_that_was_still_being_written_is_judged_as_it_is_then(string pass)
    {
        string file = _shot.File(pass, 1006);
        byte[] whole = File.ReadAllBytes(file);
        File.WriteAllBytes(file, whole[..(whole.Length / 2)]);
        var later = new RestComesLater(() => File.WriteAllBytes(file, whole));
        var run = new IntakeRun(new NoFactsCache(), ReadLimits.Default) { Gatherer = later };
        IntakeResult intake = run.Run(Disk.Folder(_shot.Folder), OutsideShot.Plan, FactsDepth.Pixels, null, default);
        Assert.Equal(1, later.Troubled);
        Assert.All(intake.Facts.Values, f => Assert.Null(f.Problem));
    }

    private sealed class RestComesLater(Action write) : IFactsGatherer
    {
        private int _troubled;

        /// <summary>Files that had a problem when they were read first.</summary>
        public int Troubled => _troubled;

        public void Gather(FactsOrder order, Action<int, FileFacts> got, CancellationToken cancel)
        {
            GatheringHere.Shared.Gather(
                order,
                (place, facts) =>
                {
                    Interlocked.Add(ref _troubled, facts.Problem is null ? 0 : 1);
                    got(place, facts);
                },
                cancel
            );
            write();
        }

        public void Measure(SumsOrder order, Action<int, RebuildFacts?> got, CancellationToken cancel) =>
            GatheringHere.Shared.Measure(order, got, cancel);

        public int MachinesFor(StoragePath folder) => 0;
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
        File.Move(_shot.File("ao", 1004), _shot[$"haze/{name}"]);
        CheckReport report = _shot.Check(depth: FactsDepth.Header);
        Finding finding = Assert.Single(report.Findings);
        Assert.Equal((rule, "1004"), (finding.Rule, finding.Frames.ToString()));
        IntakeResult intake = Disk.Check(_shot.Folder, OutsideShot.Plan, FactsDepth.Header, new NoFactsCache()).Intake;
        Rename rename = Assert.Single(Renames.From(new CheckContext(OutsideShot.Plan, intake)));
        Assert.Equal(($"haze/{name}", "haze/haze_ao.1004.png"), (rename.From, rename.To));
    }

    /// <summary>A frame of another version is offered for a frame that is missing, and left alone where that is there.</summary>
    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public void Another_version_is_offered_only_for_a_frame_that_is_missing(bool isMissing)
    {
        Plan plan = OutsideShot.Plan with { Layers = [OutsideShot.Plan.Layers[0] with { Outputs = [Versioned] }] };
        foreach (int frame in FrameSet.Parse(OutsideShot.Range))
        {
            File.Move(_shot.File("z", frame), _shot[$"haze/haze_z_v002.{frame}.exr"]);
        }

        File.Copy(_shot["haze/haze_z_v002.1004.exr"], _shot["haze/haze_z_v001.1004.exr"]);
        if (isMissing)
        {
            File.Delete(_shot["haze/haze_z_v002.1004.exr"]);
        }

        (IntakeResult intake, _) = Disk.Check(_shot.Folder, plan, FactsDepth.Header, new NoFactsCache());
        Assert.Equal(
            isMissing ? ["haze/haze_z_v001.1004.exr to haze/haze_z_v002.1004.exr"] : [],
            Renames.From(new CheckContext(plan, intake)).Select(r => $"{r.From} to {r.To}")
        );
    }

    private static OutputPlan Versioned =>
        OutsideShot.Plan.Layers[0].Outputs[0] with
        {
            Template = "haze/haze_{pass}_v002.{frame}.exr",
            Passes = [.. OutsideShot.Plan.Layers[0].Outputs[0].Passes.Where(p => p.Pass == "depth")],
        };

    [Fact]
    public void A_plan_from_files_takes_passes_from_names_and_slips_to_their_sequence()
    {
        File.Move(_shot.File("ao", 1004), _shot["haze/haze_ao_1004.png"]);
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
        _shot.RewriteEach("normal", OutsideShot.Range, "--mulc", "0.5", "--addc", "0.5");

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
}
