using System.Text.Json;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Matching;
using DuneCrate.Checking.Remedies;
using DuneCrate.Checking.Reports;
using DuneCrate.Crates;
using DuneCrate.Foundation.Documents;
using DuneCrate.Imaging;
using DuneCrate.Planning.Model;
using DuneCrate.Shots;
using DuneCrate.Shots.Checking;
using DuneCrate.Store;
using DuneCrate.Store.Rows;

namespace DuneCrate.Web.Tests;

/// <summary>What a kill left is found in order at the next start, and what the application says of it is so.</summary>
public class RestartTests(AppFixture app) : IClassFixture<AppFixture>
{
    [Fact]
    public async Task A_crate_that_was_published_before_it_could_be_noted_is_known_again()
    {
        Plan plan = await app.AddShotAsync("PB010");
        ShowStore store = app.Service<ShowStore>();
        CrateStore crateStore = app.Service<CrateStore>();
        ReceiverStore receiverStore = app.Service<ReceiverStore>();
        ShotRow shot = (await store.ShotAsync("KELP", "PB010"))!;
        await store.SetFolderAsync(shot.Id, "renders", "PB010");
        CrateRow older = await crateStore.AddCrateAsync(shot.Id, CrateLayouts.ByLayer, "Ada Reed");
        await crateStore.ChangeCrateAsync(older.Id, c => (c.State, c.Name) = (JobState.Failed, "PB010_crate_v000"));
        await receiverStore.SendBackAsync(
            new CrateRemarkRow
            {
                CrateId = older.Id,
                Layer = "sub",
                Pass = "depth",
                Words = "The floor is not in it.",
                By = "Cosima Vale",
                At = DateTime.UtcNow,
            }
        );
        CrateRow row = await crateStore.AddCrateAsync(shot.Id, CrateLayouts.ByLayer, "Ada Reed");
        await crateStore.ChangeCrateAsync(row.Id, c => c.State = JobState.Running);
        (IntakeResult intake, CheckReport report) = Disk.Check(Path.Combine(app.Renders, "PB010"), plan, FactsDepth.Pixels);
        SealedCrate crate = CrateBuilder.Seal(
            Disk.Contents(plan, intake, CrateLayouts.ByLayer),
            report,
            Disk.Folder(Path.Combine(app.Crates, "KELP", "PB010")),
            row.SealId,
            null,
            default
        );
        await app.RestartAsync();
        string page = await app.UntilAsync("/KELP/PB010/crate", text => !text.Contains("being sealed<"));
        Assert.Contains(crate.Name, page);
        Assert.Contains("Whole, read back", page);
        Assert.Empty(await app.Service<ReceiverStore>().OpenRemarksAsync(shot.Id));
        CrateRow now = (await app.Service<CrateStore>().CrateAsync(shot.Id, row.Id))!;
        Assert.Equal(
            (JobState.Done, crate.Files, crate.Bytes, crate.SumsDigest, null),
            (now.State, now.Files, now.Bytes, now.SumsDigest, now.Problem)
        );
    }

    [Fact]
    public async Task What_a_killed_sealing_left_goes_when_it_cannot_be_gone_on_with()
    {
        await app.AddShotAsync("PB020");
        ShowStore store = app.Service<ShowStore>();
        CrateStore crateStore = app.Service<CrateStore>();
        ShotRow shot = (await store.ShotAsync("KELP", "PB020"))!;
        CrateRow row = await crateStore.AddCrateAsync(shot.Id, CrateLayouts.ByLayer, "Ada Reed");
        await crateStore.ChangeCrateAsync(row.Id, c => c.State = JobState.Running);
        string place = Path.Combine(app.Crates, "KELP", "PB020"),
            left = Path.Combine(place, $".PB020_crate_v001.somewhere.4711.{row.SealId:N}.partial");
        Directory.CreateDirectory(Path.Combine(left, "sub"));
        await File.WriteAllTextAsync(Path.Combine(left, "sub", "a.exr"), "half");
        await app.RestartAsync();
        await app.UntilAsync("/KELP/PB020/crate", text => text.Contains("not sealed") && !text.Contains("being sealed<"));
        Assert.Empty(Directory.GetFileSystemEntries(place));
    }

    [Fact]
    public async Task A_killed_sealing_is_gone_on_with_after_a_start()
    {
        await app.AddShotAsync("PB025");
        await app.CheckAsync("PB025");
        ShowStore store = app.Service<ShowStore>();
        CrateStore crateStore = app.Service<CrateStore>();
        ShotRow shot = (await store.ShotAsync("KELP", "PB025"))!;
        CrateRow row = await crateStore.AddCrateAsync(shot.Id, CrateLayouts.ByLayer, "Ada Reed");
        await crateStore.ChangeCrateAsync(row.Id, c => c.State = JobState.Running);
        string place = Path.Combine(app.Crates, "KELP", "PB025");
        Directory.CreateDirectory(Path.Combine(place, $".PB025_crate_v001.somewhere.4711.{row.SealId:N}.partial", "sub"));
        await app.RestartAsync();
        await app.UntilAsync("/KELP/PB025/crate", text => text.Contains("Whole, read back"));
        CrateRow now = (await app.Service<CrateStore>().CrateAsync(shot.Id, row.Id))!;
        Assert.Equal((JobState.Done, "PB025_crate_v001"), (now.State, now.Name));
        Assert.Equal([now.Path!], Directory.GetFileSystemEntries(place));
    }

    [Fact]
    public async Task A_crate_is_sealed_as_the_first_thing_after_a_start()
    {
        // A start looks up the shot that was worked on last, and no other.
        foreach (string shot in (string[])["PB040", "PB041"])
        {
            await app.AddShotAsync(shot);
            await app.CheckAsync(shot);
        }

        await app.RestartAsync();
        string token = await app.TokenAsync("/new-show");
        (string text, _) = await app.PostWithAsync(token, "/KELP/PB040/crate?handler=Seal", ("by", "Ada Reed"), ("layout", "layers"));
        Assert.DoesNotContain("being looked up again", text);
        await app.UntilAsync("/KELP/PB040/crate", page => page.Contains("Whole, read back"));

        // A kill in the midst of writing down what happened to a crate leaves a half-written file, which goes at the next start.
        string half = Path.Combine(app.Crates, "KELP", "PB040", ".PB040_crate_v001.history.jsonl.partial");
        await File.WriteAllTextAsync(half, "{");
        File.SetLastWriteTimeUtc(half, DateTime.UtcNow.AddDays(-1));
        await app.RestartAsync();
        await app.UntilAsync("/KELP/PB040/crate", _ => !File.Exists(half));
    }

    [Fact]
    public async Task A_crate_of_a_folder_that_is_gone_since_a_start_is_refused_in_words()
    {
        await app.AddShotAsync("PB050");
        await app.CheckAsync("PB050");
        Directory.Move(Path.Combine(app.Renders, "PB050"), Path.Combine(app.Renders, "PB051"));
        await app.RestartAsync();
        string token = await app.TokenAsync("/new-show");
        (string text, _) = await app.PostWithAsync(token, "/KELP/PB050/crate?handler=Seal", ("by", "Ada Reed"), ("layout", "layers"));
        Assert.Contains($"There is no folder {Path.Combine(app.Renders, "PB050")}.", text);
        Assert.DoesNotContain("Reading the check", text);
    }

    [Fact]
    public async Task A_crate_that_fails_its_reading_back_is_shown_as_not_whole_and_as_whole_once_mended()
    {
        await app.AddShotAsync("PB030");
        await app.CheckAsync("PB030");
        await app.PostAsync("/KELP/PB030/crate", "?handler=Seal", ("by", "Ada Reed"), ("layout", "layers"));
        await app.UntilAsync("/KELP/PB030/crate", text => text.Contains("Whole, read back"));
        ShowStore store = app.Service<ShowStore>();
        CrateStore crateStore = app.Service<CrateStore>();
        ShotRow shot = (await store.ShotAsync("KELP", "PB030"))!;
        CrateRow row = (await crateStore.CratesAsync(shot.Id)).Single();
        string file = Path.Combine(row.Path!, "sub/sub/sub.1001.exr");
        byte[] bytes = await File.ReadAllBytesAsync(file);
        await File.WriteAllBytesAsync(file, [.. bytes[..^1], (byte)(bytes[^1] ^ 1)]);
        await app.PostAsync("/KELP/PB030/crate", "?handler=Verify", ("id", $"{row.Id}"));
        Assert.Contains("sub/sub/sub.1001.exr was changed", await app.UntilAsync("/KELP/PB030/crate", text => text.Contains("Not whole")));
        await File.WriteAllBytesAsync(file, bytes);
        await app.PostAsync("/KELP/PB030/crate", "?handler=Verify", ("id", $"{row.Id}"));
        await app.UntilAsync("/KELP/PB030/crate", text => text.Contains("Whole, read back"));
        Directory.Delete(row.Path!, recursive: true);
        await app.PostAsync("/KELP/PB030/crate", "?handler=Verify", ("id", $"{row.Id}"));
        Assert.Contains("its folder is gone", await app.UntilAsync("/KELP/PB030/crate", text => text.Contains("Not whole")));
    }

    [Fact]
    public async Task A_renaming_that_was_killed_half_way_gives_every_old_name_back()
    {
        Plan plan = await app.AddShotAsync("RN010");
        string folder = Path.Combine(app.Renders, "RN010");
        foreach (int frame in (int[])[1001, 1002, 1003, 1004])
        {
            File.Move(Path.Combine(folder, "sub", $"RN010_sub.{frame}.exr"), Path.Combine(folder, "sub", $"RN010_sbu.{frame}.exr"));
        }

        ShowStore store = app.Service<ShowStore>();
        ShotRow shot = (await store.ShotAsync("KELP", "RN010"))!;
        await store.SetFolderAsync(shot.Id, "renders", "RN010");
        IntakeResult intake = Disk.TakeIn(folder, plan, FactsDepth.Header);
        var renames = Renames.From(new CheckContext(plan, intake));
        Assert.Equal(4, renames.Length);

        // The record is on the disk before the first file moves; two files were moved when the kill came.
        string record = Path.Combine(Path.GetDirectoryName(app.Crates)!, "renames", $"{shot.Id}.json");
        Directory.CreateDirectory(Path.GetDirectoryName(record)!);
        await File.WriteAllTextAsync(
            record,
            JsonSerializer.Serialize(new RenameStep(folder, renames, DateTime.UtcNow, IsOpen: true), AnyJson.Options)
        );
        Renames.Apply(Disk.Folder(folder), renames[..2]);
        await app.RestartAsync();
        FileRenamer renamer = app.Service<FileRenamer>();
        Assert.True(renamer.Last(shot.Id)!.IsOpen);
        Assert.Null(await renamer.BackAsync((await app.Service<ShowStore>().ShotAsync("KELP", "RN010"))!));
        Assert.Equal(4, Directory.GetFiles(Path.Combine(folder, "sub"), "RN010_sbu.*.exr").Length);
        Assert.Null(renamer.Last(shot.Id));
    }

    [Fact]
    public async Task A_record_of_renames_that_is_half_written_is_none()
    {
        await app.AddShotAsync("RN020");
        ShotRow shot = (await app.Service<ShowStore>().ShotAsync("KELP", "RN020"))!;
        string record = Path.Combine(Path.GetDirectoryName(app.Crates)!, "renames", $"{shot.Id}.json");
        Directory.CreateDirectory(Path.GetDirectoryName(record)!);
        await File.WriteAllTextAsync(record, "{\"folder\":");
        Assert.Null(app.Service<FileRenamer>().Last(shot.Id));
        await app.GetAsync("/KELP/RN020/check");
    }

    [Fact]
    public async Task A_data_folder_is_one_processs_at_a_time()
    {
        ServeOptions options = app.Service<ServeOptions>();
        IOException e = Assert.ThrowsAny<IOException>(() => DuneCrateApp.Build(options));
        Assert.Contains($"is in use by process {Environment.ProcessId} on", e.Message);
        await app.GetAsync("/");
    }

    [Fact]
    public async Task What_was_split_over_files_is_worked_out_once()
    {
        // The cache that the application has is asked again by a process that has read nothing.
        Plan plan = await app.AddShotAsync("SR010");
        LayerPlan sub = plan.Layers[0];
        OutputPlan one = sub.Outputs[0];
        Plan split = plan with
        {
            Layers =
            [
                sub with
                {
                    Outputs =
                    [
                        one with
                        {
                            Passes = [.. one.Passes.Where(p => p.Pass == "beauty")],
                            Template = "sub/b.{frame}.exr",
                        },
                        one with
                        {
                            Passes = [.. one.Passes.Where(p => p.Pass != "beauty")],
                            Template = "sub/t.{frame}.exr",
                        },
                    ],
                },
            ],
        };
        string folder = Path.Combine(app.Renders, "SR011");
        Disk.Render(split, folder, null, []);
        FactsStore facts = app.Service<FactsStore>();
        IntakeResult first = Disk.TakeIn(folder, split, FactsDepth.Pixels, facts);
        Assert.Equal(4, first.Rebuilds.Count);
        facts.Flush();
        var counted = new CountedReads();
        IntakeResult second = new IntakeRun(facts, ReadLimits.Default with { SecondsPerFile = 1e-6 }).Run(
            Disk.Folder(folder),
            split,
            FactsDepth.Pixels,
            counted,
            default
        );
        Assert.Equal(first.Rebuilds.Values.Select(r => r.MaxResidual), second.Rebuilds.Values.Select(r => r.MaxResidual));
        Assert.True(counted.Last.Files == counted.Last.OfFiles && counted.Last.OfFiles >= 4 + 8);
    }

    private sealed class CountedReads : IProgress<IntakeProgress>
    {
        public IntakeProgress Last { get; private set; }

        public void Report(IntakeProgress value) => Last = value;
    }
}
