using System.IO.Compression;
using System.Net;
using System.Text.Json.Nodes;
using DuneCrate.Checking.Intake;
using DuneCrate.Crates;
using DuneCrate.Imaging.Listing;
using DuneCrate.Planning.Edits;
using DuneCrate.Planning.Model;
using DuneCrate.Shots.Checking;
using DuneCrate.Store;
using DuneCrate.Store.Rows;

namespace DuneCrate.Web.Tests;

/// <summary>From frames to a crate over HTTP.</summary>
public class ShotFlowTests(AppFixture app) : IClassFixture<AppFixture>
{
    [Fact]
    public async Task A_clean_shot_goes_from_folder_to_verified_crate()
    {
        await app.AddShotAsync("FL010");
        await app.CheckAsync("FL010");
        string check = await app.GetAsync("/KELP/FL010/check");
        Assert.Contains("No findings", check);
        Assert.Contains("all here", check);
        Assert.Contains("sums", check);
        await app.PostAsync("/KELP/FL010/crate", "?handler=Seal", ("by", "Ada Reed"), ("layout", "layers"));
        string crates = await app.UntilAsync("/KELP/FL010/crate", text => text.Contains("Whole, read back") || text.Contains("not sealed"));
        Assert.Contains("FL010_crate_v001", crates);
        Assert.Contains("by Ada Reed", crates);
        string folder = Path.Combine(app.Crates, "KELP", "FL010", "FL010_crate_v001");
        Assert.True(CrateVerifier.Verify(Disk.Folder(folder), null, default).IsWhole);

        CrateRow row = (await app.Service<CrateStore>().CratesAsync((await app.Service<ShowStore>().ShotAsync("KELP", "FL010"))!.Id))[0];
        Assert.Contains("FL010", await app.GetAsync($"/KELP/FL010/crate?handler=Slip&id={row.Id}"));
        using (var zip = new ZipArchive(new MemoryStream(await app.Client.GetByteArrayAsync($"/KELP/FL010/crate?handler=Zip&id={row.Id}"))))
        {
            Assert.Equal(Directory.GetFiles(folder, "*", SearchOption.AllDirectories).Length, zip.Entries.Count);
            using Stream entry = zip.GetEntry("FL010_crate_v001/SHA256SUMS")!.Open();
            using var copy = new MemoryStream();
            entry.CopyTo(copy);
            Assert.Equal(File.ReadAllBytes(Path.Combine(folder, "SHA256SUMS")), copy.ToArray());
        }

        File.AppendAllText(Path.Combine(folder, "slip.html"), " ");
        await app.PostAsync("/KELP/FL010/crate", "?handler=Verify", ("id", $"{row.Id}"));
        Assert.Contains("slip.html was changed", await app.UntilAsync("/KELP/FL010/crate", text => text.Contains("Not whole")));
    }

    [Fact]
    public async Task Findings_are_shown_waived_and_unwaived()
    {
        await app.AddShotAsync("WV010", "nonfinite:sub:1002");
        await app.CheckAsync("WV010");
        string check = await app.GetAsync("/KELP/WV010/check");
        Assert.Contains("1 blocker", check);
        Assert.Contains("Not a number", check);
        Assert.Contains("blocked", check);
        (string refused, _) = await app.PostAsync("/KELP/WV010/crate", "?handler=Seal", ("by", "Ada Reed"), ("layout", "layers"));
        Assert.Contains("pixels.nonfinite sub 1002", refused);

        const string Key = "pixels.nonfinite~sub/WV010_sub.####.exr~beauty~1002";
        (string said, _) = await app.PostAsync("/KELP/WV010/check", "?handler=Waive", ("key", Key), ("by", " "), ("reason", "x"));
        Assert.Contains("needs a name and a reason", said);
        (string waived, _) = await app.PostAsync(
            "/KELP/WV010/check",
            "?handler=Waive",
            ("key", Key),
            ("by", "Ada Reed"),
            ("reason", "covered by the title")
        );
        Assert.Contains("by Ada Reed: covered by the title", waived);
        Assert.Contains("ready to seal", waived);
        (string back, _) = await app.PostAsync("/KELP/WV010/check", "?handler=Unwaive", ("key", Key));
        Assert.Contains("1 blocker", back);
    }

    [Fact]
    public async Task Reports_are_handed_out_as_the_command_line_writes_them()
    {
        await app.AddShotAsync("RP010", "missing:sub:1003");
        await app.CheckAsync("RP010", "false");
        JsonNode report = JsonNode.Parse(await app.Client.GetStringAsync("/KELP/RP010/check?handler=Report"))!;
        Assert.Equal("dune-crate.report/1", (string?)report["schema"]);
        Assert.Equal("frames.missing", (string?)report["findings"]![0]!["rule"]);
        Assert.Contains("frames.missing,blocker", await app.Client.GetStringAsync("/KELP/RP010/check?handler=Csv"));
        Assert.Contains("sub,1003,1", await app.Client.GetStringAsync("/KELP/RP010/check?handler=Rerun"));
        Assert.Contains("1003", await app.GetAsync("/KELP/RP010/receive"));
    }

    [Fact]
    public async Task Pictures_probe_and_rebuild_answer()
    {
        await app.AddShotAsync("PX010", "missing:sub:1003", "truncated:sub:1004");
        await app.CheckAsync("PX010");
        const string At = "/KELP/PX010/";
        byte[] png = await app.Client.GetByteArrayAsync($"{At}picture.png?layer=sub&pass=beauty&frame=1001&exposure=1.5");
        Assert.Equal([0x89, (byte)'P', (byte)'N', (byte)'G'], png[..4]); // PNG (ISO/IEC 15948), signature.
        Assert.NotEqual(png, await app.Client.GetByteArrayAsync($"{At}picture.png?layer=sub&pass=beauty&frame=1001&exposure=-3"));
        foreach (
            string path in new[]
            {
                "picture.png?layer=sub&pass=depth&frame=1001&near=2&far=9",
                "picture.png?layer=sub&pass=cryptomatte.object&frame=1001",
                "picture.png?layer=sub&pass=beauty&frame=1004",
                "rebuild.png?layer=sub&frame=1001&what=sum",
                "rebuild.png?layer=sub&frame=1001&what=residual&width=32",
            }
        )
        {
            using HttpResponseMessage answer = await app.Client.GetAsync(At + path);
            Assert.True(answer.IsSuccessStatusCode, path);
        }

        foreach (
            string path in new[]
            {
                "picture.png?layer=sub&pass=beauty&frame=1003",
                "picture.png?layer=nope&pass=beauty&frame=1001",
                "rebuild.png?layer=sub&frame=1003&what=sum",
            }
        )
        {
            using HttpResponseMessage answer = await app.Client.GetAsync(At + path);
            Assert.Equal(HttpStatusCode.NotFound, answer.StatusCode);
        }

        JsonArray probe = JsonNode.Parse(await app.Client.GetStringAsync($"{At}probe?layer=sub&frame=1001&x=20&y=18"))!.AsArray();
        Assert.Contains("beauty", probe.Select(p => (string?)p!["pass"]));
        Assert.Contains("depth", probe.Select(p => (string?)p!["pass"]));
        Assert.Equal(17, probe.Count);
        string stack = await app.GetAsync($"{At}stack?layer=sub&frame=1001");
        Assert.Contains("The light passes sum to the beauty", stack);
        Assert.Contains("cannot be summed", await app.GetAsync($"{At}stack?layer=sub&frame=1003"));
    }

    /// <summary>
    /// 8-bit pictures: shown as they are stored, since the view transform undoes the curve they are stored along; probed in 0..1.
    /// </summary>
    [Fact]
    public async Task Pictures_that_are_not_OpenEXR_are_shown_and_probed()
    {
        await app.AddShotAsync("PN010");
        await app.CheckAsync("PN010", pixels: "false");
        string folder = Directory.CreateDirectory(Path.Combine(app.Renders, "PN020", "sub")).FullName;
        byte[][] frames =
        [
            .. await Task.WhenAll(
                new[] { 1001, 1002 }.Select(f => app.Client.GetByteArrayAsync($"/KELP/PN010/picture.png?layer=sub&pass=beauty&frame={f}"))
            ),
        ];
        for (int i = 0; i < frames.Length; i++)
        {
            await File.WriteAllBytesAsync(Path.Combine(folder, $"sub.{1001 + i}.png"), frames[i]);
        }

        await app.PostAsync(
            "/KELP/new-shot",
            "?handler=Plan",
            ("Code", "PN020"),
            ("Frames", "1001-1002"),
            ("Rate", "24"),
            ("Width", "64"),
            ("Height", "36"),
            ("Camera", "c")
        );
        await app.CheckAsync("PN020");
        await app.PostAsync("/KELP/PN020/receive", "?handler=Plan");
        await app.CheckAsync("PN020");
        Assert.DoesNotContain("cannot be", await app.GetAsync("/KELP/PN020/look?layer=sub&pass=beauty&frame=1002"));
        Assert.Equal(frames[1], await app.Client.GetByteArrayAsync("/KELP/PN020/picture.png?layer=sub&pass=beauty&frame=1002"));
        JsonNode probed = Assert.Single(
            JsonNode.Parse(await app.Client.GetStringAsync("/KELP/PN020/probe?layer=sub&frame=1001&x=20&y=18"))!.AsArray()
        )!;
        Assert.Equal(["R", "G", "B"], probed["samples"]!.AsArray().Select(s => (string?)s!["channel"]));
        Assert.All(
            probed["samples"]!.AsArray(),
            s => Assert.InRange(double.Parse((string)s!["value"]!, System.Globalization.CultureInfo.InvariantCulture), 0, 1)
        );
        Assert.Empty(JsonNode.Parse(await app.Client.GetStringAsync("/KELP/PN020/probe?layer=sub&frame=1001&x=64&y=0"))!.AsArray());
    }

    [Fact]
    public async Task Pictures_with_overscan_say_which_pixels_they_show()
    {
        Plan plan = await app.AddShotAsync("PO010");
        plan = plan with { Shot = plan.Shot with { Overscan = 4 } };
        Disk.Render(plan, Path.Combine(app.Renders, "PO010"), null, []);
        await app.EditAsync("PO010", 0, new SetShot { Overscan = "4" });
        await app.CheckAsync("PO010");
        Assert.Contains("64 × 36 + 4", await app.GetAsync("/KELP/PO010/look"));
        using HttpResponseMessage answer = await app.Client.GetAsync("/KELP/PO010/picture.png?layer=sub&pass=beauty&frame=1001");
        Assert.Equal("-4 -4 67 39", Assert.Single(answer.Headers.GetValues("Data-Window")));
        Assert.NotEmpty(JsonNode.Parse(await app.Client.GetStringAsync("/KELP/PO010/probe?layer=sub&frame=1001&x=-4&y=39"))!.AsArray());
        Assert.Empty(JsonNode.Parse(await app.Client.GetStringAsync("/KELP/PO010/probe?layer=sub&frame=1001&x=-5&y=0"))!.AsArray());
        Assert.Contains("The light passes sum to the beauty", await app.GetAsync("/KELP/PO010/stack?layer=sub&frame=1001"));
    }

    [Fact]
    public async Task A_check_left_running_is_taken_up_again_after_a_restart()
    {
        await app.AddShotAsync("RS010");
        ShowStore store = app.Service<ShowStore>();
        CheckStore checkStore = app.Service<CheckStore>();
        ShotRow shot = (await store.ShotAsync("KELP", "RS010"))!;
        await store.SetFolderAsync(shot.Id, "renders", "RS010");
        CheckRow check = await checkStore.AddCheckAsync(shot.Id, pixels: true); // Asked for, and the application ends before it runs.
        await app.RestartAsync();
        await app.UntilAsync("/KELP/RS010/receive?handler=Progress", text => !text.Contains("Taking in"));
        Assert.Equal(JobState.Done, (await app.Service<CheckStore>().NewestCheckAsync(shot.Id))!.State);
        Assert.Equal(check.Id, (await app.Service<CheckStore>().NewestCheckAsync(shot.Id))!.Id);
        Assert.Contains("clean", await app.GetAsync("/KELP/RS010/check"));
    }

    [Fact]
    public async Task A_crate_left_half_sealed_is_tried_again_after_a_restart()
    {
        await app.AddShotAsync("HS010");
        ShowStore store = app.Service<ShowStore>();
        CrateStore crateStore = app.Service<CrateStore>();
        ShotRow shot = (await store.ShotAsync("KELP", "HS010"))!;
        CrateRow crate = await crateStore.AddCrateAsync(shot.Id, CrateLayouts.ByLayer, "Ada Reed");
        await crateStore.ChangeCrateAsync(crate.Id, c => c.State = JobState.Running);
        await app.RestartAsync();
        await app.UntilAsync("/KELP/HS010/crate", text => !text.Contains("being sealed<"));
        Assert.Equal(JobState.Failed, (await app.Service<CrateStore>().CrateAsync(shot.Id, crate.Id))!.State);
    }

    [Fact]
    public async Task Stopping_keeps_what_was_read_and_resuming_finishes()
    {
        await app.AddShotAsync("ST010");
        ShowStore store = app.Service<ShowStore>();
        CheckStore checkStore = app.Service<CheckStore>();
        ShotRow shot = (await store.ShotAsync("KELP", "ST010"))!;
        await store.SetFolderAsync(shot.Id, "renders", "ST010");
        CheckQueue work = app.Service<CheckQueue>();
        CheckRow check = await checkStore.AddCheckAsync(shot.Id, pixels: true);
        await checkStore.SetCheckAsync(check.Id, JobState.Stopped);
        Assert.Contains("The check was stopped", await app.GetAsync("/KELP/ST010/receive"));
        await app.PostAsync("/KELP/ST010/receive", "?handler=Check", ("pixels", "true"));
        await app.UntilAsync("/KELP/ST010/receive?handler=Progress", text => !text.Contains("Taking in"));
        Assert.Equal(JobState.Done, (await checkStore.NewestCheckAsync(shot.Id))!.State);
        Assert.Empty(work.Live);
    }

    [Fact]
    public async Task A_folder_that_vanished_is_a_failed_check_with_the_reason()
    {
        await app.AddShotAsync("VN010");
        ShowStore store = app.Service<ShowStore>();
        await store.SetFolderAsync((await store.ShotAsync("KELP", "VN010"))!.Id, "renders", "gone");
        await app.PostAsync("/KELP/VN010/receive", "?handler=Check", ("pixels", "true"));
        Assert.Contains(
            "There is no folder 'gone'",
            await app.UntilAsync("/KELP/VN010/receive", text => text.Contains("There is no folder") || text.Contains("all here"))
        );
    }

    [Fact]
    public async Task A_changed_plan_makes_the_report_stale()
    {
        await app.AddShotAsync("SL010");
        await app.CheckAsync("SL010");
        await app.EditAsync("SL010", 0, new WriteCells([new CellText("kelp", "uv", "x")]));
        Assert.Contains("The plan was changed after this check", await app.GetAsync("/KELP/SL010/check"));
    }

    [Fact]
    public void Facts_are_found_again_only_for_an_unchanged_file_and_request()
    {
        FactsStore facts = app.Service<FactsStore>();
        var file = new IntakeFile(
            Disk.Place("/somewhere/a.0001.exr"),
            "a.0001.exr",
            1000,
            new DateTime(2026, 1, 2, 3, 4, 5, DateTimeKind.Utc)
        );
        var pixels = new FactsRequest(FactsDepth.Pixels);
        facts.Keep(
            file,
            pixels,
            new FileFacts
            {
                Path = file.Path,
                Format = "exr",
                Bytes = 1000,
                Modified = file.Modified,
                Readable = true,
                LostLines = Foundation.Frames.FrameSet.Parse("3-4"),
                Content = [.. Enumerable.Range(0, 16).Select(i => (byte)i)],
            }
        );
        facts.Flush();
        Assert.Equal("3-4", facts.Find(file, pixels)!.LostLines!.ToString());
        Assert.NotNull(facts.Find(file, new FactsRequest(FactsDepth.Header)));
        Assert.Null(facts.Find(file with { Bytes = 1001 }, pixels));
        Assert.Null(facts.Find(file with { Modified = file.Modified.AddSeconds(1) }, pixels));
        Assert.Null(facts.Find(file, new FactsRequest(FactsDepth.Pixels, new Checking.Rebuild.RebuildRecipe(["R", "G", "B"], []))));
        facts.Keep(file, new FactsRequest(FactsDepth.Header), new FileFacts { Path = file.Path, Format = "exr" });
        facts.Flush();
        Assert.Null(facts.Find(file, pixels));
    }

    [Fact]
    public void Files_can_be_told_apart_by_content_instead_of_time()
    {
        string folder = Directory.CreateTempSubdirectory("dune-crate-test-").FullName,
            path = Path.Combine(folder, "a.0001.exr");
        File.WriteAllBytes(path, new byte[100]);
        FactsStore facts = app.Service<FactsStore>();
        var run = new IntakeRun(facts, Imaging.ReadLimits.Default) { ByContent = true };
        FileFacts first = run.Run(Disk.Folder(folder), null, FactsDepth.Header, null, default).Facts["a.0001.exr"];
        Assert.NotNull(first.Problem);
        DateTime time = File.GetLastWriteTimeUtc(path);
        var file = new IntakeFile(Disk.File(path), "a.0001.exr", 100, time) { Content = [1, 2, 3] };
        facts.Keep(
            file,
            new FactsRequest(FactsDepth.Header),
            new FileFacts
            {
                Path = file.Path,
                Format = "exr",
                Readable = true,
            }
        );
        facts.Flush();
        Assert.NotNull(facts.Find(file with { Modified = time.AddHours(1) }, new FactsRequest(FactsDepth.Header)));
        Assert.Null(facts.Find(file with { Content = [1, 2, 4] }, new FactsRequest(FactsDepth.Header)));
        Directory.Delete(folder, recursive: true);
    }

    [Fact]
    public void Headers_that_are_alike_are_kept_once()
    {
        FactsStore facts = app.Service<FactsStore>();
        for (int frame = 1; frame <= 50; frame++)
        {
            var file = new IntakeFile(
                Disk.Place($"/alike/a.{frame:0000}.exr"),
                $"a.{frame:0000}.exr",
                1000 + frame,
                new DateTime(2026, 1, 2, 3, 4, 5, DateTimeKind.Utc)
            );
            var part = new PartFacts
            {
                Type = "scanlineimage",
                Compression = "zip",
                DisplayWindow = new(0, 0, 9, 9),
                DataWindow = new(0, 0, 9, 9),
                RenderSeconds = frame,
                Camera = "cam_alike",
            };
            facts.Keep(
                file,
                new FactsRequest(FactsDepth.Header),
                new FileFacts
                {
                    Path = file.Path,
                    Format = "exr",
                    Readable = true,
                    Bytes = file.Bytes,
                    Modified = file.Modified,
                    Parts = [part],
                }
            );
        }

        facts.Flush();
        using var context = app.Service<Microsoft.EntityFrameworkCore.IDbContextFactory<DuneCrateContext>>().CreateDbContext();
        int[] shapes =
        [
            .. context.Facts.Where(f => context.FactFolders.Any(d => d.Id == f.FolderId && d.Path == "/alike")).Select(f => f.ShapeId),
        ];
        Assert.Equal(50, shapes.Length);
        Assert.Single(shapes.Distinct());
        FileFacts seventh = facts.Find(
            new IntakeFile(Disk.Place("/alike/a.0007.exr"), "a.0007.exr", 1007, new DateTime(2026, 1, 2, 3, 4, 5, DateTimeKind.Utc)),
            new FactsRequest(FactsDepth.Header)
        )!;
        Assert.Equal((1007L, 7d, "cam_alike"), (seventh.Bytes, seventh.Parts[0].RenderSeconds, seventh.Parts[0].Camera));
    }

    [Fact]
    public async Task The_database_is_in_wal_mode()
    {
        await using var context = await app.Service<Microsoft.EntityFrameworkCore.IDbContextFactory<DuneCrateContext>>()
            .CreateDbContextAsync();
        await using var command = Microsoft
            .EntityFrameworkCore.RelationalDatabaseFacadeExtensions.GetDbConnection(context.Database)
            .CreateCommand();
        command.CommandText = "PRAGMA journal_mode";
        await command.Connection!.OpenAsync();
        Assert.Equal("wal", (string?)await command.ExecuteScalarAsync());
    }
}
