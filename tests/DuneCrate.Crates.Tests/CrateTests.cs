using System.Diagnostics;
using System.Text.Json.Nodes;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Reports;

namespace DuneCrate.Crates.Tests;

public class CrateTests
{
    private static (CrateContents Contents, CheckReport Report) Read(ShotFixture shot, string layout = CrateLayouts.ByLayer)
    {
        (IntakeResult intake, CheckReport report) = Disk.Check(shot.Folder, shot.Plan, FactsDepth.Pixels, new NoFactsCache());
        return (Disk.Contents(shot.Plan, intake, layout), report);
    }

    private static string Seal(ShotFixture shot, TempFolder to, params Waiver[] waivers)
    {
        (CrateContents contents, CheckReport report) = Read(shot);
        return Seal(contents, report.With(waivers), to);
    }

    private static string Seal(
        CrateContents contents,
        CheckReport report,
        TempFolder to,
        IProgress<CrateProgress>? progress = null,
        CancellationToken cancel = default
    ) => CrateBuilder.Seal(contents, report, Disk.Folder(to.Path), Guid.NewGuid(), progress, cancel).Folder.FullPath;

    [Fact]
    public void A_sealed_crate_passes_sha256sum_and_our_own_reading()
    {
        using var shot = new ShotFixture();
        using var to = new TempFolder();
        string crate = Seal(shot, to);
        Assert.Equal("KP010_crate_v001", Path.GetFileName(crate));
        using Process check = Process.Start(
            new ProcessStartInfo("sha256sum", "-c --quiet SHA256SUMS") { WorkingDirectory = crate, RedirectStandardOutput = true }
        )!;
        check.WaitForExit();
        Assert.Equal(0, check.ExitCode);
        CrateProof proof = CrateVerifier.Verify(Disk.Folder(crate), null, default);
        Assert.True(proof.IsWhole);
        Assert.Equal(12 * 12 + 9, proof.Files);
        Assert.Equal(
            File.ReadAllBytes(shot["sub_data/KP010_sub_data.1003.exr"]),
            File.ReadAllBytes(Path.Combine(crate, "sub/sub_data/sub_data.1003.exr"))
        );
        Assert.Equal([crate], Directory.GetFileSystemEntries(to.Path));
    }

    [Fact]
    public void The_manifest_says_how_to_use_every_pass_and_names_nothing_outside()
    {
        using var shot = new ShotFixture();
        using var to = new TempFolder();
        string crate = Seal(shot, to),
            text = File.ReadAllText(Path.Combine(crate, "crate.json"));
        JsonNode json = JsonNode.Parse(text)!;
        Assert.Equal("dune-crate.crate/1", (string?)json["schema"]);
        Assert.Equal("24/1", (string?)json["frameRate"]);
        JsonNode[] passes = [.. json["passes"]!.AsArray().Select(p => p!)];
        Assert.Equal(35, passes.Length);
        JsonNode depth = passes.First(p => (string?)p["pass"] == "depth");
        Assert.Equal(
            ("raw", "data", "none", "sequence"),
            ((string?)depth["colourSpace"], (string?)depth["kind"], (string?)depth["operation"], (string?)depth["extent"])
        );
        // Below the farthest layer is nothing that its shadow could fall on.
        Assert.Equal(
            ["seabed beauty", "seabed shadow", "seabed ao", "kelp beauty", "kelp ao", "sub shadow", "sub beauty", "sub ao"],
            passes.Where(p => p["place"] is not null).OrderBy(p => (int)p["place"]!).Select(p => $"{p["layer"]} {p["pass"]}")
        );
        Assert.Equal("premultiplied", (string?)passes.First(p => (string?)p["pass"] == "beauty" && (string?)p["layer"] == "sub")["alpha"]);
        Assert.DoesNotContain(shot.Folder, text);
        Assert.DoesNotContain(
            to.Path,
            text + File.ReadAllText(Path.Combine(crate, "slip.html")) + File.ReadAllText(Path.Combine(crate, "SHA256SUMS"))
        );
    }

    [Fact]
    public void The_slip_is_one_page_without_links_out()
    {
        using var shot = new ShotFixture();
        using var to = new TempFolder();
        string slip = File.ReadAllText(Path.Combine(Seal(shot, to), "slip.html"));
        Assert.DoesNotMatch("(?i)(src|href)\\s*=\\s*\"(?!data:image/png;base64,)", slip);
        Assert.Equal(36, slip.Split("src=\"data:image/png;base64,").Length - 1); // 35 passes and the composite.
        Assert.Contains("The Kelp Post", slip);
        Assert.Contains("beauty = direct_diffuse + indirect_diffuse", slip);
        Assert.Contains("sub/sub/sub.####.exr", slip);
    }

    [Fact]
    public void Blockers_keep_a_crate_from_being_sealed_until_they_are_waived()
    {
        using var shot = new ShotFixture("nonfinite:sub:1004");
        using var to = new TempFolder();
        Assert.Contains("pixels.nonfinite sub 1004", Assert.Throws<CrateRefusedException>(() => Seal(shot, to)).Message);
        Assert.Empty(Directory.GetFileSystemEntries(to.Path));
        string crate = Seal(
            shot,
            to,
            new Waiver
            {
                Rule = "pixels.nonfinite",
                By = "Ada <b>Reed",
                Reason = "covered by the title",
            }
        );
        Assert.Equal("Ada <b>Reed", CrateVerifier.Verify(Disk.Folder(crate), null, default).Manifest.Waived[0].Waived!.By);
        Assert.Contains("Ada &lt;b&gt;Reed", File.ReadAllText(Path.Combine(crate, "slip.html")));
    }

    [Fact]
    public void Files_still_being_written_keep_a_crate_from_being_sealed()
    {
        using var shot = new ShotFixture("empty:sub:1004");
        using var to = new TempFolder();
        Assert.Contains("still being written", Assert.Throws<CrateRefusedException>(() => Seal(shot, to)).Message);
    }

    [Fact]
    public void A_header_check_is_not_enough()
    {
        using var shot = new ShotFixture();
        using var to = new TempFolder();
        CheckReport header = shot.Check(FactsDepth.Header);
        Assert.Contains("Check every pixel", Assert.Throws<CrateRefusedException>(() => Seal(Read(shot).Contents, header, to)).Message);
    }

    [Fact]
    public void Versions_count_up()
    {
        using var shot = new ShotFixture();
        using var to = new TempFolder();
        Directory.CreateDirectory(to["KP010_crate_v007"]);
        Assert.Equal("KP010_crate_v008", Path.GetFileName(Seal(shot, to)));
        Assert.Equal(1, CrateBuilder.NextVersion(Disk.Folder(to.Path).At("nowhere"), "KP010"));
    }

    [Fact]
    public void A_file_that_changed_since_the_check_stops_the_sealing_and_leaves_nothing()
    {
        using var shot = new ShotFixture();
        using var to = new TempFolder();
        (CrateContents contents, CheckReport report) = Read(shot);
        File.AppendAllText(shot["seabed_shadow/KP010_seabed_shadow.1012.exr"], "x");
        Assert.Contains("is not what was checked", Assert.Throws<CrateRefusedException>(() => Seal(contents, report, to)).Message);
        Assert.Empty(Directory.GetFileSystemEntries(to.Path));
    }

    [Fact]
    public void Stopping_leaves_nothing()
    {
        using var shot = new ShotFixture();
        using var to = new TempFolder();
        (CrateContents contents, CheckReport report) = Read(shot);
        using var stop = new CancellationTokenSource();
        Assert.ThrowsAny<OperationCanceledException>(() => Seal(contents, report, to, new StopAfter(40, stop), stop.Token));
        Assert.Empty(Directory.GetFileSystemEntries(to.Path));
    }

    [Fact]
    public void What_a_killed_sealing_left_is_no_crate_and_is_swept_by_the_next()
    {
        using var shot = new ShotFixture();
        using var to = new TempFolder();
        string machine = string.Concat(Environment.MachineName.Where(c => char.IsAsciiLetterOrDigit(c) || c == '-'));
        string gone = to[$".KP010_crate_v001.{machine}.999999999.{Guid.NewGuid():N}.partial"],
            elsewhere = to[$".KP010_crate_v001.elsewhere.1.{Guid.NewGuid():N}.partial"];
        Directory.CreateDirectory(gone);
        Directory.CreateDirectory(elsewhere);
        string killed = to[".KP010_crate_v000.history.jsonl.partial"],
            written = to[".KP010_crate_v0.history.jsonl.partial"];
        File.WriteAllText(killed, "{");
        File.SetLastWriteTimeUtc(killed, DateTime.UtcNow.AddDays(-1));
        File.WriteAllText(written, "{");
        File.WriteAllText(Path.Combine(gone, "crate.json"), "{");
        Assert.Throws<FormatException>(() => CrateVerifier.Verify(Disk.Folder(gone), null, default));
        Assert.Equal("KP010_crate_v001", Path.GetFileName(Seal(shot, to)));
        Assert.False(Directory.Exists(gone));
        Assert.True(Directory.Exists(elsewhere));
        Assert.False(File.Exists(killed));
        Assert.True(File.Exists(written));
    }

    [Fact]
    public void Verify_finds_what_changed_is_missing_or_was_added()
    {
        using var shot = new ShotFixture();
        using var to = new TempFolder();
        string crate = Seal(shot, to);
        byte[] bytes = File.ReadAllBytes(Path.Combine(crate, "kelp/kelp/kelp.1005.exr"));
        bytes[^1] ^= 1;
        File.WriteAllBytes(Path.Combine(crate, "kelp/kelp/kelp.1005.exr"), bytes);
        File.Delete(Path.Combine(crate, "sub/sub/sub.1001.exr"));
        File.WriteAllText(Path.Combine(crate, "note.txt"), "");
        Assert.Equal(
            ["kelp/kelp/kelp.1005.exr was changed", "note.txt was added", "sub/sub/sub.1001.exr is missing"],
            CrateVerifier.Verify(Disk.Folder(crate), null, default).Problems.AsEnumerable()
        );
    }

    [Theory]
    [InlineData("0123  ../../etc/passwd")]
    [InlineData("not a checksum line at all, whatever it may say; it is long enough to be one though")]
    public void Checksums_that_lead_out_are_refused(string line)
    {
        using var shot = new ShotFixture();
        using var to = new TempFolder();
        string crate = Seal(shot, to);
        File.AppendAllText(Path.Combine(crate, "SHA256SUMS"), line.Replace("0123", new string('0', 64)) + "\n");
        Assert.Contains(
            CrateVerifier.Verify(Disk.Folder(crate), null, default).Problems,
            p => p.Contains("no checksum of a file in the crate", StringComparison.Ordinal)
        );
    }

    [Fact]
    public void A_folder_that_is_no_crate_is_said_to_be_none()
    {
        using var folder = new TempFolder();
        Assert.Contains(
            "is no crate",
            Assert.Throws<FormatException>(() => CrateVerifier.Verify(Disk.Folder(folder.Path), null, default)).Message
        );
    }

    [Fact]
    public void Names_are_put_right_and_strays_left_out_with_the_reason()
    {
        using var shot = new ShotFixture("repadded:sub:1004");
        File.Copy(shot["sub/KP010_sub.1005.exr"], shot["sub/KP010_sub.1099.exr"]);
        File.Copy(shot["sub/KP010_sub.1005.exr"], shot["sub/KP010_sub.01006.exr"]);
        Directory.CreateDirectory(shot["foam"]);
        File.Copy(shot["sub/KP010_sub.1005.exr"], shot["foam/foam_final.0001.exr"]);
        CrateContents contents = Read(shot).Contents;
        Assert.Contains(contents.Sequences[0].Files, f => f is { From: "sub/KP010_sub.01004.exr", To: "sub/sub/sub.1004.exr" });
        Assert.Equal(
            [
                ("foam/foam_final.0001.exr", "in no output of the plan"),
                ("sub/KP010_sub.01006.exr", "another file claims its frame"),
                ("sub/KP010_sub.1099.exr", "outside the planned frames"),
            ],
            contents.LeftOut.Select(l => (l.Path, l.Why)).Order()
        );
        Assert.Equal(12, contents.Sequences[0].Files.Length);
    }

    [Fact]
    public void Layouts_arrange_the_same_files()
    {
        using var shot = new ShotFixture();
        CrateContents byLayer = Read(shot).Contents,
            byKind = Read(shot, CrateLayouts.ByKind).Contents;
        Assert.Equal(
            byLayer.Sequences.SelectMany(s => s.Files).Select(f => f.From).Order(),
            byKind.Sequences.SelectMany(s => s.Files).Select(f => f.From).Order()
        );
        Assert.Contains(byKind.Sequences, s => s.Name.ToString() == "data/kelp_data/kelp_data.####.exr");
        Assert.Contains(byKind.Sequences, s => s.Name.ToString() == "identity/sub_cryptomatte_object/sub_cryptomatte_object.####.exr");
        Assert.Throws<ArgumentException>(() => Read(shot, "spiral"));
        Assert.All(
            new[] { byLayer, byKind },
            c => Assert.Equal(c.Files, c.Sequences.SelectMany(s => s.Files).Select(f => f.To).Distinct().Count())
        );
    }

    private sealed class StopAfter(int files, CancellationTokenSource stop) : IProgress<CrateProgress>
    {
        public void Report(CrateProgress value)
        {
            if (value.Files == files)
            {
                stop.Cancel();
            }
        }
    }
}
