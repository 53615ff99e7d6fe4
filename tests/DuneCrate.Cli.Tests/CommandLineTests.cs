using System.Text.Json.Nodes;
using DuneCrate.Foundation.Frames;
using DuneCrate.Planning.Model;
using static DuneCrate.Testing.CommandLine;

namespace DuneCrate.Cli.Tests;

/// <summary>The command line as a process: exit codes, standard output and error.</summary>
public sealed class CommandLineTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("dune-crate-cli-").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private string At(string name) => Path.Combine(_folder, name);

    private string Render(params string[] faults)
    {
        string folder = At("frames");
        (int code, _, string error) = Dune([
            "stand-in",
            "render",
            "--to",
            folder,
            "--frames",
            "1001-1003",
            "--size",
            "64x36",
            .. faults.SelectMany(f => new[] { "--fault", f }),
        ]);
        Assert.True(code == 0, error);
        return folder;
    }

    [Fact]
    public void A_recipe_that_cannot_be_read_is_refused_in_our_words()
    {
        string frames = Render();
        File.WriteAllText(At("recipe.json"), """{ "schema": "dune-crate.recipe/1", "files": "per-thing" }""");
        (int code, _, string error) = Dune([
            "crate",
            "--plan",
            Path.Combine(frames, "plan.json"),
            "--from",
            frames,
            "--to",
            At("out"),
            "--recipe",
            At("recipe.json"),
        ]);
        Assert.Equal(2, code);
        Assert.Equal("dune: The recipe cannot be read. files has a value of the wrong kind (line 1).", error.Trim());
    }

    [Fact]
    public void Frames_are_checked_sealed_and_verified()
    {
        string frames = Render(),
            plan = Path.Combine(frames, "plan.json");
        Assert.Equal(0, Dune("check", frames, "--plan", plan, "--depth", "pixels").Code);
        (int code, string crate, _) = Dune("crate", "--plan", plan, "--from", frames, "--to", At("out"), "--layout", "kinds");
        Assert.Equal(0, code);
        Assert.Equal(0, Dune("verify", crate.Trim()).Code);
        File.AppendAllText(Path.Combine(crate.Trim(), "slip.html"), " ");
        (code, string said, _) = Dune("verify", crate.Trim());
        Assert.Equal(1, code);
        Assert.Contains("slip.html was changed", said);
    }

    /// <summary>Two renders of the same frames are equal; a fault in one is told with channel and pixel, and as a document.</summary>
    [Fact]
    public void Files_are_pictured_and_compared()
    {
        string frames = Render(),
            file = Path.Combine(frames, "sub", "KP010_sub.1002.exr"),
            other = At("other");
        Assert.Equal(0, Dune("stand-in", "render", "--to", other, "--frames", "1001-1003", "--size", "64x36").Code);
        Assert.Equal(0, Dune("compare", frames, other).Code);
        Assert.Equal(
            0,
            Dune("stand-in", "render", "--to", other, "--frames", "1001-1003", "--size", "64x36", "--fault", "unlit:sub:1002").Code
        );
        (int code, string said, _) = Dune("compare", frames, other);
        Assert.Equal(1, code);
        Assert.Contains("differs    sub/KP010_sub.1002.exr", said);
        Assert.Contains("1 of ", said);
        (code, string json, _) = Dune("compare", file, Path.Combine(other, "sub", "KP010_sub.1002.exr"), "--json", "-");
        JsonNode document = JsonNode.Parse(json)!;
        Assert.Equal((1, "dune-crate.comparison/1", false), (code, (string)document["schema"]!, (bool)document["equal"]!));
        Assert.Equal(0, Dune("compare", file, Path.Combine(other, "sub", "KP010_sub.1002.exr"), "--tolerance", "1000").Code);

        Assert.Equal(0, Dune("picture", file, "--to", At("p.png"), "--view", "log", "--box", "8,4,20,10", "--ground", "checker").Code);
        using NetVips.Image picture = NetVips.Image.NewFromFile(At("p.png"));
        Assert.Equal((20, 10, 3), (picture.Width, picture.Height, picture.Bands));
        (code, _, string error) = Dune("picture", file, "--to", At("p.png"), "--box", "60,30,20,10");
        Assert.Equal(2, code);
        Assert.Contains("lies outside the picture of 64 × 36", error);
    }

    /// <summary>A stack is proposed, composed as EXR, PNG and OpenRaster, and what is not there is told.</summary>
    [Fact]
    public void Stacks_are_proposed_and_composed()
    {
        string frames = Render(),
            recipe = At("stack.json");
        (int code, string json, string error) = Dune("stack", "--propose", "--plan", Path.Combine(frames, "plan.json"), "--from", frames);
        Assert.True(code == 0, error);
        File.WriteAllText(recipe, json);
        (code, _, error) = Dune(
            "stack",
            recipe,
            "--from",
            frames,
            "--frames",
            "1001-1002",
            "--to",
            At("out/c.####.exr"),
            "--ora",
            At("c.ora")
        );
        Assert.True(code == 0, error);
        Assert.Equal(["c.1001.exr", "c.1002.exr"], Directory.GetFiles(At("out")).Select(Path.GetFileName).Order());
        Assert.True(new FileInfo(At("c.ora")).Length > 1000);
        (code, string facts, _) = Dune("facts", At("out/c.1001.exr"), "--json");
        JsonNode part = JsonNode.Parse(facts)!["files"]![0]!["parts"]![0]!;
        Assert.Equal(("24/1", "[0,0,63,35]"), ((string)part["frameRate"]!, part["dataWindow"]!.ToJsonString()));
        Assert.Equal(["A", "B", "G", "R"], part["channels"]!.AsArray().Select(c => (string)c!["name"]!));

        File.Delete(Path.Combine(frames, "sub", "KP010_sub.1002.exr"));
        (code, _, error) = Dune("stack", recipe, "--from", frames, "--frames", "1002", "--to", At("one.png"));
        Assert.Equal(1, code);
        Assert.Contains("sub beauty at 1002 is left out: sub/KP010_sub.1002.exr: there is no such file", error);
        Assert.True(File.Exists(At("one.png")));
    }

    [Fact]
    public void A_plan_is_made_from_files_and_reports_and_rerun_lists_take_the_form_of_their_names()
    {
        string frames = Render("nonfinite:sub:1002-1003");
        (int code, string plan, _) = Dune("plan", frames, "--show", "KELP", "--shot", "KP010");
        Assert.Equal(0, code);
        File.WriteAllText(At("plan.json"), plan);
        Assert.Equal(
            1,
            Dune(
                "check",
                frames,
                "--plan",
                At("plan.json"),
                "--depth",
                "pixels",
                "--html",
                At("report.html"),
                "--rerun",
                At("rerun.json"),
                "--chunk",
                "1"
            ).Code
        );
        Assert.StartsWith("<!doctype html>", File.ReadAllText(At("report.html")));
        Assert.Equal(2, JsonNode.Parse(File.ReadAllText(At("rerun.json")))!["portions"]!.AsArray().Count);
        Assert.Equal(1, Dune("check", frames, "--plan", At("plan.json"), "--depth", "pixels", "--rerun", At("rerun.txt")).Code);
        Assert.Equal("sub 1002-1003\n", File.ReadAllText(At("rerun.txt")));
        Directory.CreateDirectory(At("none"));
        Assert.Equal(2, Dune("plan", At("none")).Code);
    }

    [Fact]
    public void Blockers_are_told_by_the_exit_code_and_may_be_waived()
    {
        string frames = Render("nonfinite:sub:1002"),
            plan = Path.Combine(frames, "plan.json");
        (int code, string report, string error) = Dune(
            "check",
            frames,
            "--plan",
            plan,
            "--depth",
            "pixels",
            "--json",
            "-",
            "--rerun",
            At("rerun.csv"),
            "--csv",
            At("findings.csv")
        );
        Assert.Equal(1, code);
        Assert.Empty(error);
        Assert.Equal("pixels.nonfinite", (string?)JsonNode.Parse(report)!["findings"]![0]!["rule"]);
        Assert.Contains("sub,1002,1", File.ReadAllText(At("rerun.csv")));
        Assert.Contains("pixels.nonfinite", File.ReadAllText(At("findings.csv")));
        Assert.Equal(1, Dune("crate", "--plan", plan, "--from", frames, "--to", At("out")).Code);
        File.WriteAllText(
            At("waive.json"),
            """
            {"schema":"dune-crate.waivers/1","waivers":[{"rule":"pixels.nonfinite","layer":"sub","frames":"1002",
            "by":"Ada Reed","reason":"covered"}]}
            """
        );
        Assert.Equal(0, Dune("crate", "--plan", plan, "--from", frames, "--to", At("out"), "--waive", At("waive.json")).Code);
    }

    [Fact]
    public void Facts_are_a_document_at_both_depths()
    {
        string frames = Render();
        foreach (string depth in new[] { "header", "pixels" })
        {
            (int code, string json, _) = Dune("facts", frames, "--depth", depth, "--json");
            Assert.Equal(0, code);
            JsonNode facts = JsonNode.Parse(json)!;
            Assert.Equal(36, facts["files"]!.AsArray().Count);
            Assert.Equal(depth == "pixels", facts["files"]![0]!["parts"]![0]!["channels"]![0]!["mean"] is not null);
        }

        Assert.Contains("mean", Dune("facts", Path.Combine(frames, "sub/KP010_sub.1001.exr"), "--depth", "pixels").Output);
    }

    /// <summary>A few of those that a stack trace or a resource's key answered once, and their neighbours.</summary>
    [Theory]
    [InlineData("facts /dev/zero", "")]
    [InlineData("facts /dev/stdin", "")]
    [InlineData("check /dev/null", "")]
    [InlineData("check . --plan /dev/zero", "")]
    [InlineData("check . --plan /proc/self/mem", "")]
    [InlineData("check . --root", "")]
    [InlineData("check . --root x", "is not a root")]
    [InlineData("check . --root x=/no/such", "There is no folder")]
    [InlineData("check . --json /no/such/folder/report.json", "")]
    [InlineData("check . --depth pixels --limits", "")]
    [InlineData("plan guess /no/such", "")]
    [InlineData("verify /dev/null", "")]
    [InlineData("picture /dev/zero --to x.png", "")]
    [InlineData("picture /no/such.exr --to x.png", "There is no file")]
    [InlineData("picture x.exr --to x.jpg", "end the name in .png")]
    [InlineData("picture x.exr --to x.png --view ultra", "is no view")]
    [InlineData("picture x.exr --to x.png --exposure 1e9", "--exposure takes")]
    [InlineData("picture x.exr --to x.png --gamma 0", "--gamma takes")]
    [InlineData("picture x.exr --to x.png --near NaN", "--near takes a number")]
    [InlineData("picture x.exr --to x.png --ground sand", "is no ground")]
    [InlineData("picture x.exr --to x.png --pass ao --channels R", "not both")]
    [InlineData("compare . /dev/null", "is a folder")]
    [InlineData("stack --from .", "Name the recipe")]
    [InlineData("stack --propose --from .", "--plan FILE")]
    [InlineData("stack /dev/null --from .", "regular file")]
    [InlineData("compare x.exr y.exr --tolerance -1", "--tolerance takes")]
    [InlineData("compare /no/such /no/other", "There is no file")]
    [InlineData("crate --plan /dev/null --from . --to x", "")]
    [InlineData("stand-in render --to /dev/null/x", "")]
    [InlineData("stand-in render --to x --frames 1-2147483647", "")]
    [InlineData("stand-in render --to x --size 2147483647x2147483647", "")]
    [InlineData("check . ENV Limits__MaxPixels=many", "MaxPixels")]
    [InlineData("check . ENV Limits__SecondsPerFile=NaN", "SecondsPerFile")]
    [InlineData("check . ENV Limits__MaxMemory=-1", "MaxMemory")]
    [InlineData("check . ENV Limits__SecondsPerFile=1e300", "SecondsPerFile")]
    public void No_argument_and_no_setting_is_answered_with_a_trace(string given, string part)
    {
        string[] sides = given.Split(" ENV "),
            words = sides[0].Split(' ');
        (int code, string output, string error) = DuneWith(
            sides.Length > 1 ? sides[1] : null,
            [.. words.Select(w => w is "." or "x" ? At(w == "." ? "" : w) : w)]
        );
        Assert.Equal(2, code);
        Assert.Empty(output);
        Assert.DoesNotMatch(@"(?m)^\s+at |Unhandled|Exception|[A-Z][A-Za-z]+_[A-Z][A-Za-z_]+", error);
        Assert.InRange(error.Count(c => c == '\n'), 1, 1);
        Assert.Contains(part, error);
    }

    [Theory]
    [InlineData("../../../x")]
    [InlineData("/etc")]
    public void A_plan_that_leads_out_is_refused_in_a_sentence_by_every_verb(string layer)
    {
        string plan = At("plan.json"),
            text = PlanDocument.Write(DuneCrate.StandIns.Renderer.StandInPlan.Create("KP010", FrameSet.Single(1), 8, 8));
        File.WriteAllText(plan, text.Replace("\"name\": \"sub\"", $"\"name\": \"{layer}\"", StringComparison.Ordinal));
        foreach (
            string[] verb in (string[][])
                [
                    ["check", _folder, "--plan", plan],
                    ["crate", "--plan", plan, "--from", _folder, "--to", At("crates")],
                ]
        )
        {
            (int code, _, string error) = Dune(verb);
            Assert.Equal(2, code);
            Assert.Contains("cannot be a name", error);
        }

        Assert.Equal([plan], Directory.GetFileSystemEntries(_folder));
    }

    [Theory]
    [InlineData("check /no/such/folder", "There is no folder")]
    [InlineData("check . --plan .", "is a folder")]
    [InlineData("check . --plan nowhere.json", "There is no file nowhere.json")]
    [InlineData("check . --depth deep", "is not a depth")]
    [InlineData("facts", "PATH is missing")]
    [InlineData("facts /no/such/file.exr", "there is no file")]
    [InlineData("no-such-verb", "no-such-verb")]
    [InlineData("verify .", "is no crate")]
    [InlineData("crate --plan a", "--from")]
    [InlineData("stand-in render --to x --frames 9-1", "runs backwards")]
    [InlineData("stand-in render --to x --size big", "is not a size")]
    [InlineData("stand-in render --to x --fault melted:sub:1", "is not a kind of fault")]
    [InlineData("stand-in render --to x --fault missing:whale:1", "is not a layer")]
    [InlineData("stand-in render --to x --shot a/b", "may hold letters")]
    public void What_cannot_be_done_is_one_line_and_exit_code_2(string arguments, string part)
    {
        (int code, _, string error) = Dune([.. arguments.Split(' ')]);
        Assert.Equal(2, code);
        Assert.Contains(part, error, StringComparison.OrdinalIgnoreCase);
        Assert.Single(error.TrimEnd().Split('\n'));
        Assert.DoesNotContain("   at ", error);
    }

    [Theory]
    [InlineData("--help")]
    [InlineData("check --help")]
    [InlineData("stand-in render --help")]
    [InlineData("--version")]
    public void Help_is_there_at_every_level(string arguments)
    {
        (int code, string output, _) = Dune(arguments.Split(' '));
        Assert.Equal(0, code);
        Assert.NotEmpty(output);
    }
}
