using System.Globalization;
using System.Text.Json.Nodes;
using DuneCrate.Crates.Recipes;

namespace DuneCrate.Crates.Tests.Converting;

/// <summary>
/// What a crate makes of files that oiiotool wrote, held against what oiiotool makes of them: idiff at zero tolerance, exrinfo and
/// exrheader for what stands in the headers.
/// </summary>
public sealed class ConversionTests(DriftShot shot) : IClassFixture<DriftShot>
{
    private static string Same(string made, params string[] wanted) => SameEach((made, wanted))[0];

    /// <summary>What idiff says of each file and what oiiotool makes, all of which is made by one start.</summary>
    private static string[] SameEach(params (string Made, string[] Wanted)[] files)
    {
        using var folder = new TempFolder();
        string[] others = [.. files.Select((_, i) => folder[$"{i}.exr"])];
        Tool.Oiio([.. files.Zip(others).SelectMany(f => (string[])[.. f.First.Wanted, "-o", f.Second])]);
        return
        [
            .. files
                .Zip(others)
                .Select(f => Tool.RunAny("idiff", "-fail", "0", "-failpercent", "0", "-hardfail", "0", f.First.Made, f.Second)),
        ];
    }

    private static string[] Pick(string file, string channels) => [file, "--ch", channels];

    private static JsonNode Manifest(string crate) => JsonNode.Parse(File.ReadAllText(Path.Combine(crate, "crate.json")))!;

    [Fact]
    public void A_file_per_pass_holds_its_channels_as_they_were_under_plain_names()
    {
        string crate = shot.Seal("""{ "files": "per-pass", "compression": "zips", "firstFrame": 1001, "padding": 5 }""");
        Assert.Equal("", Tool.RunAny("sh", "-c", $"cd {crate} && sha256sum -c --quiet SHA256SUMS"));
        string At(string name, int frame) => Path.Combine(crate, $"drift/{name}/{name}.{frame + 955:00000}.exr");
        string[] told = SameEach([
            .. ((int[])[46, 47, 48]).SelectMany(frame =>
                ((string, string[])[])
                    [
                        (At("drift", frame), Pick(shot.Rendered(frame), "R,G,B,A")),
                        (
                            At("drift_direct_diffuse", frame),
                            Pick(shot.Rendered(frame), "R=direct_diffuse.R,G=direct_diffuse.G,B=direct_diffuse.B")
                        ),
                        (At("drift_depth", frame), Pick(shot.Rendered(frame, "_data"), "Z")),
                        (At("drift_motion", frame), Pick(shot.Rendered(frame, "_data"), "X=motion.X,Y=motion.Y")),
                    ]
            ),
        ]);
        Assert.Equal(12, told.Length);
        Assert.All(told, t => Assert.Contains("PASS", t));

        string info = Tool.Run("exrinfo", Path.Combine(crate, "drift/drift_motion/drift_motion.01001.exr"));
        Assert.Contains("compression: 'zips'", info);
        Assert.Contains("dataWindow: [ -4, -4 - 67 43 ]", info);
        Assert.Contains("displayWindow: [ 0, 0 - 63 39 ]", info);
        Assert.Contains("'X': float", info);
        Assert.True(File.Exists(Path.Combine(crate, "drift/drift_clay/drift_clay.png")));
        JsonNode manifest = Manifest(crate);
        Assert.Equal(("1001-1003", 955), ((string?)manifest["frames"], (int)manifest["frameShift"]!));
        JsonNode motion = manifest["passes"]!.AsArray().First(p => (string?)p!["pass"] == "motion")!;
        Assert.Equal(
            ("drift/drift_motion/drift_motion.#####.exr", "1001-1003", "drift/KP050_drift_data.####.exr"),
            ((string?)motion["files"], (string?)motion["frames"], (string?)motion["was"])
        );
        Assert.Equal("""{"X":"float","Y":"float"}""", motion["channels"]!.ToJsonString());
    }

    [Fact]
    public void One_file_per_layer_holds_the_channels_of_all_its_files()
    {
        string crate = shot.Seal("""{ "files": "per-layer", "compression": "zip" }"""),
            made = Path.Combine(crate, "drift/drift/drift.0047.exr");
        Assert.Contains("PASS", Same(made, shot.Rendered(47), shot.Rendered(47, "_data"), "--chappend"));
        Assert.Equal(13, Tool.Run("exrinfo", made).Split(" samp ").Length - 1);
    }

    [Fact]
    public void Parts_are_read_by_name()
    {
        string crate = shot.Seal("""{ "files": "parts", "drop": ["depth"] }"""),
            made = Path.Combine(crate, "drift/drift/drift.0047.exr");
        string info = Tool.Run("exrinfo", made);
        Assert.Equal(
            ["beauty", "direct_diffuse", "specular", "motion"],
            System.Text.RegularExpressions.Regex.Matches(info, @"part \d+: (\S+)").Select(m => m.Groups[1].Value)
        );
        string part = shot["part.exr"];
        Tool.Oiio(made, "--subimage", "specular", "-o", part);
        Assert.Contains("PASS", Same(part, Pick(shot.Rendered(47), "specular.R,specular.G,specular.B")));
        Tool.Oiio(made, "--subimage", "motion", "-o", part);
        Assert.Contains("PASS", Same(part, Pick(shot.Rendered(47, "_data"), "motion.X,motion.Y")));
    }

    [Fact]
    public void Halves_round_as_IEEE_754_says_and_data_stays_as_it_is()
    {
        string crate = shot.Seal("""{ "types": { "combined": "half", "light": "half", "data": "half" } }"""),
            made = Path.Combine(crate, "drift/drift/drift.0046.exr"),
            other = shot["half.exr"];
        Tool.Oiio(shot.Rendered(46), "-d", "half", "-o", other);
        Assert.Contains("PASS", Tool.RunAny("idiff", "-fail", "0", "-failpercent", "0", "-hardfail", "0", made, other));
        Assert.Contains("'Z': float", Tool.Run("exrinfo", Path.Combine(crate, "drift/drift_data/drift_data.0046.exr")));
        JsonNode beauty = Manifest(crate)["passes"]!.AsArray().First(p => (string?)p!["pass"] == "beauty")!;
        // IEEE 754 binary16 has 11 significant bits: rounding to the nearest is off by at most 2^-11 of the number.
        Assert.InRange((double)beauty["loss"]!["relative"]!, 1e-5, Math.Pow(2, -11));
        Assert.InRange((double)beauty["loss"]!["absolute"]!, 1e-6, Math.Pow(2, -11));
        Assert.Equal("half from float", (string?)beauty["done"]![0]);
    }

    [Theory]
    [InlineData("display", "--crop", "64x40+0+0")]
    [InlineData("content", "--trim", null)]
    public void Windows_are_those_that_oiiotool_cuts(string window, string cut, string? box)
    {
        // A border of nothing around what is there.
        using var dark = new DriftShot();
        foreach (int frame in (int[])[46, 47, 48])
        {
            string file = dark.Rendered(frame);
            Tool.Oiio(file, "--crop", "31x17+9+11", "--crop", "72x48-4-4", "-d", "float", "-o", file);
        }

        dark.CheckAgain();
        string crate = dark.Seal($$"""{ "window": "{{window}}" }"""),
            made = Path.Combine(crate, "drift/drift/drift.0048.exr");
        string[] wanted = [dark.Rendered(48), cut, .. box is null ? (string[])[] : [box]];
        Assert.Contains("PASS", Same(made, wanted));
        string other = dark["cut.exr"];
        Tool.Oiio([.. wanted, "-o", other]);
        string Windows(string file) =>
            string.Join(' ', Tool.Run("exrinfo", file).Split('\n').Where(l => l.Contains("Window")).Select(l => l.Trim()));
        Assert.Equal(Windows(other), Windows(made));
    }

    [Fact]
    public void A_window_of_the_content_of_nothing_is_one_pixel()
    {
        using var dark = new DriftShot();
        Tool.Oiio(dark.Rendered(47), "--mulc", "0", "-d", "float", "-o", dark.Rendered(47));
        dark.CheckAgain();
        string crate = dark.Seal("""{ "window": "content", "files": "per-pass", "only": ["specular"] }""");
        Assert.Contains(
            "dataWindow: [ -4, -4 - -4 -4 ] 1 x 1",
            Tool.Run("exrinfo", Path.Combine(crate, "drift/drift_specular/drift_specular.0047.exr"))
        );
    }

    [Fact]
    public void Straight_colour_times_its_alpha_is_what_was_rendered()
    {
        string crate = shot.Seal("""{ "alpha": "straight", "files": "per-pass", "only": ["beauty", "specular"] }"""),
            made = Path.Combine(crate, "drift/drift/drift.0046.exr"),
            wanted = shot["straight.exr"];
        Tool.Oiio([.. Pick(shot.Rendered(46), "R,G,B,A"), "--unpremult", "-o", wanted]);
        // A division and a product with the reciprocal may differ in the last place of a float.
        Assert.Contains("PASS", Tool.RunAny("idiff", "-fail", "3e-6", "-failpercent", "0", "-hardfail", "2e-5", made, wanted));
        JsonNode[] passes = [.. Manifest(crate)["passes"]!.AsArray().Select(p => p!)];
        Assert.Equal("straight", (string?)passes.First(p => (string?)p["pass"] == "beauty")["alpha"]);
        Assert.Contains(
            "PASS",
            Same(
                Path.Combine(crate, "drift/drift_specular/drift_specular.0046.exr"),
                Pick(shot.Rendered(46), "R=specular.R,G=specular.G,B=specular.B")
            )
        );
    }

    [Fact]
    public void Headers_get_what_they_lack_and_keep_what_nobody_knows()
    {
        string crate = shot.Seal("""{ "header": { "frameRate": true, "camera": true, "colourSpace": true } }"""),
            beauty = Tool.Run("exrheader", Path.Combine(crate, "drift/drift/drift.0046.exr")),
            data = Tool.Run("exrheader", Path.Combine(crate, "drift/drift_data/drift_data.0046.exr"));
        Assert.Contains("framesPerSecond (type rational): 24000/1001", beauty);
        Assert.Contains("cameraLabel (type string): \"cam_main\"", beauty);
        Assert.Contains("red   (0.713 0.293)", beauty);
        Assert.Contains("tideTable (type string): \"springs\"", beauty);
        Assert.DoesNotContain("tiles (type", beauty);
        Assert.Contains("cameraLabel", data);
        Assert.DoesNotContain("chromaticities", data);
    }

    [Fact]
    public void Files_that_are_as_wanted_are_copied()
    {
        string crate = shot.Seal("""{ "files": "as-they-are", "compression": "piz" }""");
        Assert.Equal(File.ReadAllBytes(shot.Rendered(46)), File.ReadAllBytes(Path.Combine(crate, "drift/drift/drift.0046.exr")));
        Assert.Contains("compression: 'piz'", Tool.Run("exrinfo", Path.Combine(crate, "drift/drift_data/drift_data.0046.exr")));
    }

    [Fact]
    public void Passes_that_are_not_wanted_stay_out()
    {
        string crate = shot.Seal("""{ "drop": ["direct_diffuse", "motion", "clay"] }""");
        Assert.Contains(
            "PASS",
            Same(Path.Combine(crate, "drift/drift/drift.0046.exr"), Pick(shot.Rendered(46), "R,G,B,A,specular.R,specular.G,specular.B"))
        );
        Assert.Contains("PASS", Same(Path.Combine(crate, "drift/drift_depth/drift_depth.0046.exr"), Pick(shot.Rendered(46, "_data"), "Z")));
        Assert.Contains(
            shot.Contents("""{ "drop": ["clay"] }""").LeftOut,
            l => l is { Path: "drift/KP050_drift_clay.png", Why: "not wanted by the recipe" }
        );
    }

    [Fact]
    public void The_test_composite_reads_the_files_of_the_crate()
    {
        string crate = shot.Seal("""{ "files": "per-pass", "firstFrame": 1001, "layout": "{group}/{pass}.{frame}" }""");
        JsonNode stack = JsonNode.Parse(File.ReadAllText(Path.Combine(crate, "stack.json")))!;
        Assert.Equal("1001-1003", (string?)stack["frames"]);
        Assert.Equal("drift/beauty.####.exr", (string?)stack["strips"]![0]!["source"]);
    }

    /// <summary>
    /// The timeline stands for the files of the crate by the formula of OpenTimelineIO's ImageSequenceReference: base, prefix, number,
    /// suffix.
    /// </summary>
    [Fact]
    public void Other_programs_find_the_passes_by_table_and_timeline()
    {
        string crate = shot.Seal(
                """
                { "files": "per-pass", "firstFrame": 1001, "sites": [ { "site": "Tide Room", "prefix": "T:/in/kelp/" } ] }
                """
            ),
            text = File.ReadAllText(Path.Combine(crate, "timeline.otio"));
        JsonNode timeline = JsonNode.Parse(text)!,
            clip = timeline["tracks"]!["children"]![0]!["children"]![0]!,
            motion = clip["media_references"]!["motion"]!;
        Assert.Equal(
            ("Timeline.1", "Clip.2", "beauty"),
            ((string?)timeline["OTIO_SCHEMA"], (string?)clip["OTIO_SCHEMA"], (string?)clip["active_media_reference_key"])
        );
        Assert.Equal(24000 / 1001.0, (double)motion["rate"]!, 9);
        Assert.Equal(3, (double)motion["available_range"]!["duration"]!["value"]!);
        for (int i = 0; i < 3; i++)
        {
            int frame = (int)motion["start_frame"]! + i * (int)motion["frame_step"]!;
            string file =
                $"{motion["target_url_base"]}{motion["name_prefix"]}"
                + frame.ToString(CultureInfo.InvariantCulture).PadLeft((int)motion["frame_zero_padding"]!, '0')
                + motion["name_suffix"];
            Assert.True(File.Exists(Path.Combine(crate, file)), file);
        }

        Assert.Equal("ExternalReference.1", (string?)clip["media_references"]!["clay"]!["OTIO_SCHEMA"]);
        string[] table = File.ReadAllLines(Path.Combine(crate, "passes.csv"));
        Assert.EndsWith("files at Tide Room", table[0]);
        Assert.Contains("T:/in/kelp/KP050_crate_v001/<", File.ReadAllText(Path.Combine(crate, "slip.html")));
        Assert.Contains(table, l => l.Contains("T:/in/kelp/KP050_crate_v001/drift/drift_motion/drift_motion.####.exr"));
        foreach (string file in (string[])["timeline.otio", "passes.csv", "plan.json", "report.json", "crate.json", "slip.html"])
        {
            Assert.DoesNotContain(shot.Folder, File.ReadAllText(Path.Combine(crate, file)));
        }
    }

    [Fact]
    public void Samples_that_half_does_not_hold_stay_floats()
    {
        using var bright = new DriftShot();
        Tool.Oiio(bright.Rendered(48), "--mulc", "400000,1,1,1,1,1,1,1,1,1", "-d", "float", "-o", bright.Rendered(48));
        bright.CheckAgain();
        string crate = bright.Seal("""{ "types": { "combined": "half", "light": "half" } }"""),
            info = Tool.Run("exrinfo", Path.Combine(crate, "drift/drift/drift.0046.exr"));
        Assert.Contains("'R': float", info);
        Assert.Contains("'G': half", info);
        JsonNode beauty = Manifest(crate)["passes"]!.AsArray().First(p => (string?)p!["pass"] == "beauty")!;
        Assert.Contains("R kept as float", beauty["done"]!.AsArray().Select(d => (string?)d).Last());
    }

    [Fact]
    public void A_source_that_changed_since_the_check_seals_nothing()
    {
        using var changed = new DriftShot();
        Tool.Oiio(changed.Rendered(47), "--addc", "0.1", "-d", "float", "-o", changed.Rendered(47));
        Assert.Contains(
            "KP050_drift.0047.exr is not what was checked",
            Assert.Throws<CrateRefusedException>(() => changed.Seal("""{ "files": "per-pass" }""", changed["c"])).Message
        );
        Assert.Empty(Directory.GetFileSystemEntries(changed["c"]));
    }

    [Fact]
    public void A_frame_without_the_channels_of_a_pass_has_no_file_of_it()
    {
        using var lacking = new DriftShot();
        string file = lacking.Rendered(47);
        Tool.Oiio(file, "--ch", "R,G,B,A,direct_diffuse.R,direct_diffuse.G,direct_diffuse.B", "-d", "float", "-o", file);
        lacking.CheckAgain();
        CrateContents contents = lacking.Contents("""{ "files": "per-pass" }""");
        Assert.Equal("46,48", contents.Sequences.Single(s => s.Short == "drift_specular").Frames.ToString());
        Assert.Equal("46-48", contents.Sequences.Single(s => s.Short == "drift_direct_diffuse").Frames.ToString());
        Assert.Equal("has no channel of specular", Assert.Single(contents.LeftOut).Why);

        foreach (int frame in (int[])[46, 48])
        {
            Tool.Oiio(lacking.Rendered(frame), "--ch", "R,G,B,A", "-d", "float", "-o", lacking.Rendered(frame));
        }

        lacking.CheckAgain();
        string crate = lacking.Seal("""{ "files": "per-pass" }""");
        Assert.DoesNotContain(CrateVerifier.Verify(Disk.Folder(crate), null, default).Manifest.Passes, p => p.Pass == "specular");
    }

    [Fact]
    public void Room_is_looked_for_first()
    {
        CrateContents contents = shot.Contents("{}");
        CrateSequence first = contents.Sequences[0];
        CrateFile file = first.Files[0];
        var large = contents with
        {
            Sequences = [first with { Files = [file with { Sources = [file.Sources[0] with { Bytes = 1L << 60 }] }] }],
        };
        var refused = Assert.Throws<CrateRefusedException>(() =>
            CrateBuilder.Seal(large, shot.Checked.Report with { Findings = [] }, Disk.Folder(shot["full"]), Guid.NewGuid(), null, default)
        );
        Assert.Contains("Make room, or name another folder; nothing was written.", refused.Message);
        Assert.Empty(Directory.GetFileSystemEntries(shot["full"]));
    }

    [Theory]
    [InlineData("""{ "files": "per-pass", "layout": "all/{layer}.{frame}" }""", "would both be called all/drift.####.exr")]
    [InlineData("""{ "layout": "{layer}/{short}" }""", "has no {frame}, and drift/KP050_drift.####.exr has 3 frames")]
    public void A_layout_that_cannot_be_is_refused(string recipe, string says) =>
        Assert.Contains(says, Assert.Throws<CrateRefusedException>(() => shot.Contents(recipe)).Message);

    [Theory]
    [InlineData("""{ "layout": "../{short}.{frame}" }""", "without empty, . or .. steps")]
    [InlineData("""{ "layout": "/{short}.{frame}" }""", "without empty, . or .. steps")]
    [InlineData("""{ "layout": "{depth}/{short}.{frame}" }""", "{depth} is not a token")]
    [InlineData("""{ "groups": { "drift": "../out" } }""", "leads out of its folder")]
    [InlineData("""{ "short": { "beauty": "a:b" } }""", "the character ':'")]
    [InlineData("""{ "compression": "dwaa" }""", "dwaa is read here and not written; use none, rle, zips, zip or piz")]
    [InlineData("""{ "compression": "lzw" }""", "there is no compression 'lzw'")]
    [InlineData("""{ "types": { "light": "uint8" } }""", "types.light is half or float, not uint8")]
    [InlineData("""{ "types": { "colour": "half" } }""", "types")]
    [InlineData("""{ "files": "per-frame" }""", "files has a value of the wrong kind")]
    [InlineData("""{ "padding": 0 }""", "padding goes from 1")]
    [InlineData("""{ "alpha": "none" }""", "alpha is premultiplied or straight")]
    [InlineData("""{ "schema": "dune-crate.stack/1" }""", "its schema is")]
    [InlineData("""{ "sites": [ { "site": "Tide Room" } ] }""", "lacks prefix")]
    [InlineData("[]", "cannot be read")]
    public void A_recipe_that_asks_for_what_cannot_be_is_refused(string recipe, string says) =>
        Assert.Contains(says, Assert.Throws<FormatException>(() => CrateRecipe.Read(recipe)).Message);

    [Theory]
    [InlineData("""{ "only": ["beauty", "depth", "matte.*"] }""", "asks for matte.*, and nothing plans it.")]
    [InlineData("""{ "only": ["uv", "normal"] }""", "asks for uv and normal, and nothing plans them.")]
    [InlineData("""{ "only": ["beauty"], "types": { "light": "float", "data": "float" } }""", null)]
    public void What_a_receiver_asks_for_and_nothing_plans_is_said_before_the_render(string recipe, string? says)
    {
        string said = string.Join(' ', RecipeGaps.Of(CrateRecipe.Read(recipe), DriftShot.Plan).Select(g => $"{g.What} {g.Remedy}"));
        Assert.StartsWith(says ?? "", said);
        Assert.Equal(says is null, said.Length == 0);
    }

    [Fact]
    public void Contents_of_many_files_are_worked_out_as_runs() =>
        Assert.Equal(
            ["drift/drift/drift.####.exr 46-48", "drift/drift_data/drift_data.####.exr 46-48", "drift/drift_clay/drift_clay.png 46"],
            shot.Contents("{}").Sequences.Select(s => string.Create(CultureInfo.InvariantCulture, $"{s.Name} {s.Frames}"))
        );
}
