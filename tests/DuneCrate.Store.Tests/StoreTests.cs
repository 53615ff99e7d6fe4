using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Reports;
using DuneCrate.Exr;
using DuneCrate.Foundation.Frames;
using DuneCrate.Foundation.History;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Listing;
using DuneCrate.Imaging.Statistics;
using DuneCrate.Planning.Model;
using DuneCrate.Store.Rows;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Metadata;
using Microsoft.EntityFrameworkCore.Migrations;
using Microsoft.Extensions.DependencyInjection;

namespace DuneCrate.Store.Tests;

/// <summary>The database on its own: what is kept is found again, by whoever asks and after whatever came between.</summary>
public sealed class StoreTests : IDisposable
{
    private static readonly DateTime Noon = new(2026, 5, 4, 12, 0, 0, DateTimeKind.Utc);

    private readonly string _folder = Directory.CreateTempSubdirectory("dune-crate-store-").FullName;
    private readonly List<ServiceProvider> _open = [];

    [Fact]
    public async Task A_database_of_an_older_version_keeps_everything_when_it_is_brought_up_to_date()
    {
        await using (
            DuneCrateContext context = new(
                new DbContextOptionsBuilder<DuneCrateContext>().UseSqlite($"Data Source={Path.Combine(_folder, "dune-crate.db")}").Options
            )
        )
        {
            // As it was on the day when the first steps became one.
            await context.GetService<IMigrator>().MigrateAsync("20261127150401_SceneHelpers");
            await context.Database.ExecuteSqlRawAsync(
                """
                INSERT INTO shows (Id, Code, Name, FrameRate, Width, Height) VALUES (1, 'KELP', 'The Kelp Post', '24/1', 640, 360);
                INSERT INTO shots (Id, ShowId, Code, Folder, PlanJson, Revision, LastEvent, LastEventAt)
                VALUES (1, 1, 'KP010', '', '{{}}', 3, 'planned', '2026-05-04 12:00:00');
                INSERT INTO waivers (Id, ShotId, Rule, Output, Pass, Frames, "By", Reason, At)
                VALUES (1, 1, 'pixels.black', 'sub/KP010_sub.####.exr', 'beauty', '1001-1004', 'Ada Reed', 'night', '2026-05-04 12:00:00');
                """
            );
        }

        ServiceProvider services = Open();
        ShowStore store = services.GetRequiredService<ShowStore>();
        FindingStore findingStore = services.GetRequiredService<FindingStore>();
        ShotRow shot = (await store.ShotAsync("KELP", "KP010"))!;
        Assert.Equal((3, "The Kelp Post"), (shot.Revision, shot.Show.Name));
        Assert.Equal("night", Assert.Single(await findingStore.WaiversAsync(shot.Id)).Reason);
        Assert.Empty(await findingStore.NotesAsync(shot.Id));
        await using DuneCrateContext now = Context(services);
        Assert.Empty(await now.Database.GetPendingMigrationsAsync());
        Assert.False(
            now.GetService<IMigrationsModelDiffer>()
                .HasDifferences(Snapshot(now), now.GetService<IDesignTimeModel>().Model.GetRelationalModel()),
            "a migration is missing for the model as it is"
        );
    }

    /// <summary>Two hundred waivers are one change: with who made it, or not at all, whichever of both fails.</summary>
    [Fact]
    public async Task What_was_done_and_who_did_it_are_written_together_or_not_at_all()
    {
        (FindingStore findingStore, ShotRow shot) = await WithShotAsync<FindingStore>();
        HistoryStore history = _open[^1].GetRequiredService<HistoryStore>();
        WaiverRow[] Waivers() => [.. Enumerable.Range(1001, 200).Select(f => Waiver(shot.Id, $"{f}"))];
        AuditEvent[] events = [.. Enumerable.Range(1001, 200).Select(f => new AuditEvent("Ada Reed", HistoryKinds.Waived, $"frame {f}"))];
        WaiverRow[] broken = Waivers();
        broken[199].Reason = null!;
        await Assert.ThrowsAsync<DbUpdateException>(() => findingStore.WaiveAsync(broken, events));
        await Assert.ThrowsAsync<DbUpdateException>(() =>
            findingStore.WaiveAsync(Waivers(), [.. events[1..], events[0] with { Who = null! }])
        );
        Assert.Empty(await findingStore.WaiversAsync(shot.Id));
        Assert.Empty(await history.ListAsync(new HistoryQuery(), 0, 500));
        await findingStore.WaiveAsync(Waivers(), events);
        Assert.Equal(200, (await findingStore.WaiversAsync(shot.Id)).Count);
        List<HistoryEntry> entries = await history.ListAsync(new HistoryQuery(), 0, 500);
        Assert.Equal(200, entries.Count);
        Assert.Null(HistoryChain.Problem(Enumerable.Reverse(entries)));
    }

    private static WaiverRow Waiver(int shot, string frames) =>
        new()
        {
            ShotId = shot,
            Rule = "pixels.black",
            Output = "sub/KP010_sub.####.exr",
            Frames = frames,
            By = "Ada Reed",
            Reason = "night",
            At = Noon,
        };

    [Fact]
    public async Task A_finding_is_in_one_persons_hands()
    {
        (FindingStore findingStore, ShotRow shot) = await WithShotAsync<FindingStore>();
        var note = new FindingNote("pixels.black", "sub/KP010_sub.####.exr", "beauty", "Lighting", "Ada Reed", "is the lamp on?", Noon);
        await findingStore.HandAsync(shot.Id, [note], []);
        await findingStore.HandAsync(shot.Id, [note with { Rule = "files.size", Pass = null }], []);
        await findingStore.HandAsync(shot.Id, [note with { To = "Comp", Note = "" }], []);
        Assert.Equal(
            ["files.size Lighting", "pixels.black Comp"],
            (await findingStore.NotesAsync(shot.Id)).Select(n => $"{n.Rule} {n.To}")
        );
        await findingStore.TakeBackAsync(shot.Id, "files.size", note.Output, null, []);
        await findingStore.TakeBackAsync(shot.Id, "pixels.black", note.Output, "depth", []);
        FindingNote left = Assert.Single(await findingStore.NotesAsync(shot.Id));
        Assert.Equal((note with { To = "Comp", Note = "" }), left with { At = note.At });
        Assert.Empty(await findingStore.NotesAsync(shot.Id + 1));
    }

    [Fact]
    public async Task Codes_are_taken_once_whatever_their_letter_case()
    {
        (ShowStore store, _) = await WithShotAsync<ShowStore>();
        Assert.False(await store.AddShowAsync(new ShowRow { Code = "kelp", Name = "another" }));
        Assert.Null(await store.AddShotAsync("KELP", PlanOf("kp010")));
        Assert.Null(await store.AddShotAsync("NONE", PlanOf("KP020")));
        Assert.NotNull(await store.AddShotAsync("KELP", PlanOf("KP020")));
        Assert.Equal(["KP010", "KP020"], (await store.ShowsAsync())[0].Shots.Select(s => s.Code));
    }

    [Fact]
    public async Task Checks_keep_their_reports_and_unfinished_ones_are_known()
    {
        (CheckStore checkStore, ShotRow shot) = await WithShotAsync<CheckStore>();
        CheckRow first = await checkStore.AddCheckAsync(shot.Id, pixels: false),
            second = await checkStore.AddCheckAsync(shot.Id, pixels: true, byContent: true),
            third = await checkStore.AddCheckAsync(shot.Id, pixels: true);
        await checkStore.SetCheckAsync(first.Id, JobState.Done, 4, Report("first"));
        await checkStore.SetCheckAsync(second.Id, JobState.Running, 5);
        Assert.Equal([second.Id, third.Id], (await checkStore.UnfinishedChecksAsync()).Select(c => c.Id));
        Assert.True((await checkStore.UnfinishedChecksAsync())[0].ByContent);
        Assert.Equal(first.Id, await checkStore.NewestReportIdAsync(shot.Id));
        Assert.Equal(JobState.Queued, (await checkStore.NewestCheckAsync(shot.Id))!.State);
        await checkStore.SetCheckAsync(second.Id, JobState.Done, 5, Report("second"));
        await checkStore.SetCheckAsync(third.Id, JobState.Failed, problem: "the folder is gone");
        Assert.Equal([second.Id, first.Id], (await checkStore.FinishedChecksAsync(shot.Id)).Select(c => c.Id));
        Assert.Equal("first", (await checkStore.ReportAsync(first.Id))!.Root);
        Assert.Null(await checkStore.ReportAsync(third.Id));
        Assert.Equal("the folder is gone", (await checkStore.NewestCheckAsync(shot.Id))!.Problem);
        Assert.Empty(await checkStore.UnfinishedChecksAsync());
    }

    [Fact]
    public void Facts_are_found_again_by_another_process()
    {
        FactsStore one = Open().GetRequiredService<FactsStore>();
        IntakeFile[] files = [.. Enumerable.Range(1, 700).Select(i => File($"/renders/KP010/sub/a.{i:0000}.exr"))];
        var pixels = new FactsRequest(FactsDepth.Pixels);
        foreach (IntakeFile file in files)
        {
            one.Keep(file, pixels, Facts(file, mean: file.FullPath.GetHashCode(StringComparison.Ordinal)));
        }

        one.Flush();
        FactsStore other = Open().GetRequiredService<FactsStore>();
        IReadOnlyDictionary<string, FileFacts> found = other.FindAll(files, pixels, _ => pixels);
        Assert.Equal(700, found.Count);
        Assert.All(
            files,
            f => Assert.Equal(f.FullPath.GetHashCode(StringComparison.Ordinal), found[f.FullPath].Parts[0].Channels[0].Samples!.Mean)
        );
        Assert.All(
            other.FindAll(files, new FactsRequest(FactsDepth.Header), _ => new FactsRequest(FactsDepth.Header)).Values,
            f => Assert.Null(f.Parts[0].Channels[0].Samples)
        );
    }

    [Fact]
    public void Facts_that_are_looked_up_beside_a_listing_are_the_same()
    {
        FactsStore store = Open().GetRequiredService<FactsStore>();
        var request = new FactsRequest(FactsDepth.Header);
        string[] below = ["/renders/KP010/a.0001.exr", "/renders/KP010/sub/b.0001.exr", "/renders/KP010/sub/c/d.0001.exr"],
            beside = ["/renders/KP0100/a.0001.exr", "/renders/KP010.old/a.0001.exr", "/renders/a.0001.exr"];
        IntakeFile[] files = [.. below.Concat(beside).Append("/renders/KP010/new.0002.exr").Select(f => File(f))];
        foreach (IntakeFile file in files.SkipLast(1))
        {
            store.Keep(file, request, Facts(file, 0));
        }

        store.Flush();
        IKnownFacts known = store.BesideListing(Disk.Place("/renders/KP010"), FactsDepth.Header);
        Assert.Equal(
            store.FindAll(files, request, _ => request).Keys.Order(StringComparer.Ordinal),
            known.FindAll(files, request, _ => request).Keys.Order(StringComparer.Ordinal)
        );
        using DuneCrateContext context = Context(_open[0]);
        context.Facts.ExecuteDelete();
        Assert.Equal(below, known.FindAll(files, request, _ => request).Keys.Order(StringComparer.Ordinal));
        // A file that has changed since is none of them, and what holds samples is looked up when it is asked for.
        IntakeFile[] grown = [.. files.Select(f => f with { Bytes = f.Bytes + 1 })];
        Assert.Empty(known.FindAll(grown, request, _ => request));
        Assert.Same(store, store.BesideListing(Disk.Place("/renders/KP010"), FactsDepth.Pixels));
    }

    [Fact]
    public void Facts_kept_twice_are_the_last_ones()
    {
        FactsStore store = Open().GetRequiredService<FactsStore>();
        var pixels = new FactsRequest(FactsDepth.Pixels);
        IntakeFile file = File("/renders/a.0001.exr"),
            grown = file with { Bytes = file.Bytes + 5, Modified = file.Modified.AddSeconds(3) };
        store.Keep(file, pixels, Facts(file, 1));
        store.Keep(file, pixels, Facts(file, 2));
        store.Flush();
        Assert.Equal(2, store.Find(file, pixels)!.Parts[0].Channels[0].Samples!.Mean);
        store.Keep(grown, pixels, Facts(grown, 3));
        store.Flush();
        Assert.Null(store.Find(file, pixels));
        Assert.Equal(3, store.Find(grown, pixels)!.Parts[0].Channels[0].Samples!.Mean);
        using DuneCrateContext context = Context(_open[0]);
        Assert.Equal(1, context.Facts.Count());
    }

    [Fact]
    public async Task Facts_are_kept_from_many_threads()
    {
        FactsStore store = Open().GetRequiredService<FactsStore>();
        var request = new FactsRequest(FactsDepth.Header);
        IntakeFile[] files = [.. Enumerable.Range(0, 3000).Select(i => File($"/renders/{i % 7}/a.{i:0000}.exr"))];
        await Parallel.ForEachAsync(
            files,
            (file, _) =>
            {
                store.Keep(file, request, Facts(file, 0));
                return ValueTask.CompletedTask;
            }
        );
        store.Flush();
        Assert.Equal(3000, store.FindAll(files, request, _ => request).Count);
    }

    [Theory]
    [InlineData("/renders/it's here/a.0001.exr")]
    [InlineData("/renders/Übung 海/ä;--.0001.exr")]
    [InlineData("/a.0001.exr")]
    public void Names_of_any_letters_are_found_again(string path)
    {
        FactsStore store = Open().GetRequiredService<FactsStore>();
        var request = new FactsRequest(FactsDepth.Header);
        store.Keep(File(path), request, Facts(File(path), 0));
        store.Flush();
        Assert.NotNull(store.Find(File(path), request));
        Assert.Null(store.Find(File(path + "x"), request));
    }

    private static readonly AuditEvent Planned = new("Ada Reed", HistoryKinds.Planned, "plan");

    [Fact]
    public async Task Plans_are_kept_by_revision_and_saved_only_on_the_newest()
    {
        (ShowStore shows, ShotRow shot) = await WithShotAsync<ShowStore>();
        PlanStore plans = _open[0].GetRequiredService<PlanStore>();
        Plan first = PlanOf("KP010"),
            second = first with { Shot = first.Shot with { Camera = "cam_two" } };
        Assert.True(await plans.SaveAsync(second, Step(shot.Id, 1, "camera changed"), Planned));
        Assert.False(await plans.SaveAsync(first, Step(shot.Id, 1, "too late"), Planned));
        Assert.Equal(1, (await shows.ShotAsync("KELP", "KP010"))!.Revision);
        Assert.Equal("cam_two", PlanDocument.Read((await plans.PlanAtAsync(shot.Id, 1))!).Plan!.Shot.Camera);
        Assert.Equal("cam_main", PlanDocument.Read((await plans.PlanAtAsync(shot.Id, 0))!).Plan!.Shot.Camera);
        Assert.Null(await plans.PlanAtAsync(shot.Id, 2));
        Assert.Equal(["camera changed", "planned"], (await plans.RevisionsAsync(shot.Id)).Select(r => r.What));
    }

    [Fact]
    public async Task A_preflight_item_is_ticked_by_name_and_taken_back()
    {
        (PlanStore plans, ShotRow shot) = await WithShotAsync<PlanStore>();
        await plans.TickAsync(shot.Id, "camera is locked", "Ada Reed");
        await plans.TickAsync(shot.Id, "camera is locked", "Ben Moor");
        await plans.TickAsync(shot.Id, "lights are on", "Ada Reed");
        Assert.Equal(2, (await plans.TicksAsync(shot.Id)).Count);
        await plans.TickAsync(shot.Id, "lights are on", null);
        Assert.Equal("camera is locked", Assert.Single(await plans.TicksAsync(shot.Id)).Item);
    }

    [Fact]
    public async Task Crates_that_are_being_sealed_are_told_from_the_others()
    {
        (CrateStore crateStore, ShotRow shot) = await WithShotAsync<CrateStore>();
        CrateRow sealing = await crateStore.AddCrateAsync(shot.Id, "layers", "Ada Reed"),
            done = await crateStore.AddCrateAsync(shot.Id, "layers", "Ada Reed");
        await crateStore.ChangeCrateAsync(done.Id, c => (c.State, c.Name) = (JobState.Done, "KP010_crate_v001"));
        Assert.Equal(sealing.Id, Assert.Single(await crateStore.UnfinishedCratesAsync()).Crate.Id);
        Assert.Null(await crateStore.CrateAsync(shot.Id + 1, done.Id));
    }

    public void Dispose()
    {
        _open.ForEach(s => s.Dispose());
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        Directory.Delete(_folder, recursive: true);
    }

    private ServiceProvider Open()
    {
        ServiceProvider services = new ServiceCollection().AddDuneCrateStore(Path.Combine(_folder, "dune-crate.db")).BuildServiceProvider();
        _open.Add(services);
        return services;
    }

    private async Task<(T Store, ShotRow Shot)> WithShotAsync<T>()
        where T : notnull
    {
        ServiceProvider services = Open();
        ShowStore shows = services.GetRequiredService<ShowStore>();
        Assert.True(await shows.AddShowAsync(new ShowRow { Code = "KELP", Name = "The Kelp Post" }));
        return (services.GetRequiredService<T>(), (await shows.AddShotAsync("KELP", PlanOf("KP010")))!);
    }

    private static DuneCrateContext Context(ServiceProvider services) =>
        services.GetRequiredService<IDbContextFactory<DuneCrateContext>>().CreateDbContext();

    private static IRelationalModel Snapshot(DuneCrateContext context) =>
        context
            .GetService<IModelRuntimeInitializer>()
            .Initialize(context.GetService<IMigrationsAssembly>().ModelSnapshot!.Model)
            .GetRelationalModel();

    private static Plan PlanOf(string code) =>
        new()
        {
            Show = new ShowPlan { Code = "KELP" },
            Shot = new ShotPlan
            {
                Code = code,
                Frames = FrameSet.Parse("1-4"),
                Width = 8,
                Height = 8,
                Camera = "cam_main",
            },
        };

    private static PlanRevisionRow Step(int shot, int revision, string what) =>
        new()
        {
            ShotId = shot,
            Revision = revision,
            Plan = [],
            What = what,
            At = Noon,
        };

    private static CheckReport Report(string root) =>
        new()
        {
            Root = root,
            Depth = FactsDepth.Header,
            Sequences = [],
            Findings = [],
            Rerun = [],
            Summary = new CheckSummary(0, 0, 0, 0, 0, 0),
        };

    private static IntakeFile File(string path) => new(Disk.Place(path), Path.GetFileName(path), 1000, Noon);

    private static FileFacts Facts(IntakeFile file, double mean) =>
        new()
        {
            Path = file.Path,
            Format = "exr",
            Bytes = file.Bytes,
            Modified = file.Modified,
            Readable = true,
            Content = [.. new byte[ContentHash.Bytes]],
            Parts =
            [
                new PartFacts
                {
                    Type = "scanlineimage",
                    Compression = "zip",
                    DisplayWindow = PixelBox.OfSize(8, 8),
                    DataWindow = PixelBox.OfSize(8, 8),
                    Channels =
                    [
                        new ChannelFacts
                        {
                            Name = "R",
                            Type = ChannelType.Half,
                            Pass = "beauty",
                            Samples = new SampleStatistics { Mean = mean, Pixels = 64 },
                        },
                    ],
                },
            ],
        };
}
