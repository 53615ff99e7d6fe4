using System.Collections.Concurrent;
using System.Text.Json.Nodes;
using DuneCrate.Checking.Findings;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Rebuild;
using DuneCrate.Checking.Reports;
using DuneCrate.Exr;
using DuneCrate.Imaging.Listing;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.Checking.Tests.Intake;

public class IntakeTests
{
    private static readonly Plan Plan = StandInPlan.Create("KP010", FrameSet.Parse("1001-1003"), 48, 27);

    [Fact]
    public void Listing_finds_pictures_and_passes_over_the_rest()
    {
        using var folder = new TempFolder();
        Directory.CreateDirectory(folder["a/.hidden"]);
        foreach (
            string name in new[]
            {
                "a/x.0001.exr",
                "a/x.exr.0002",
                "a/y.PNG",
                "plan.json",
                "a/.z.exr.partial",
                "a/.hidden/h.exr",
                "a/.y.exr",
                "readme",
            }
        )
        {
            File.WriteAllText(folder[name], "");
        }

        Assert.Equal(
            ["a/x.0001.exr", "a/x.exr.0002", "a/y.PNG"],
            FolderListing.Read(Disk.Folder(folder.Path), default).Files.Select(f => f.Path)
        );
        Assert.Throws<DirectoryNotFoundException>(() => FolderListing.Read(Disk.Folder(folder.Path).At("nowhere"), default));
        Assert.Null(FolderListing.OfFile(Disk.File(folder["nowhere.exr"]), "nowhere.exr"));
    }

    /// <summary>A folder without permission was passed over in silence, and all its frames were to be rendered again.</summary>
    [Fact]
    public void A_folder_that_may_not_be_read_is_told_and_its_frames_are_not_missing()
    {
        using var folder = new TempFolder();
        Disk.Render(Plan, folder.Path, FrameSet.Single(1001), []);
        Plan plan = Plan with { Shot = Plan.Shot with { Frames = FrameSet.Single(1001) } };
        File.SetUnixFileMode(folder.Path, (UnixFileMode)0b111_101_101);
        File.SetUnixFileMode(folder["sub"], UnixFileMode.None);
        CheckReport report = null!;
        try
        {
            Unprivileged.Do(() => report = Disk.Check(folder.Path, plan, FactsDepth.Header).Report);
        }
        finally
        {
            File.SetUnixFileMode(folder["sub"], UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute);
        }

        Finding told = Assert.Single(report.Findings);
        Assert.Equal(
            ("files.unreadable", "sub", "sub", "1001", "The folder sub may not be read; what it holds is not known."),
            (told.Rule, told.Output, told.Layer, told.Frames.ToString(), told.Message)
        );
        Assert.Empty(report.Rerun);
        Assert.All(
            FrameMap.From(plan, report),
            lane =>
                Assert.Equal(
                    lane.Output.StartsWith("sub/", StringComparison.Ordinal) ? FrameState.Damaged : FrameState.Good,
                    Assert.Single(lane.Runs).State
                )
        );
        Assert.Empty(Disk.Check(folder.Path, plan, FactsDepth.Header).Report.Findings);
    }

    [Fact]
    public void Links_to_folders_are_not_followed()
    {
        using var folder = new TempFolder();
        Directory.CreateDirectory(folder["real"]);
        File.WriteAllText(folder["real/x.0001.exr"], "");
        Directory.CreateSymbolicLink(folder["loop"], folder.Path);
        Assert.Single(FolderListing.Read(Disk.Folder(folder.Path), default).Files);
    }

    [Fact]
    public void Header_facts_say_what_the_header_says()
    {
        using var folder = new TempFolder();
        Disk.Render(Plan, folder.Path, FrameSet.Single(1001), []);
        FileFacts facts = Disk.Facts(folder["sub/KP010_sub.1001.exr"], new FactsRequest(FactsDepth.Header));
        PartFacts part = Assert.Single(facts.Parts);
        Assert.True(facts.Readable);
        Assert.Equal(
            ("zip", "scanlineimage", "cam_main", new FrameRate(24, 1), PixelBox.OfSize(48, 27)),
            (part.Compression, part.Type, part.Camera, part.FrameRate, part.DisplayWindow)
        );
        Assert.All(part.Channels, c => Assert.Null(c.Samples));
        Assert.Equal("direct_diffuse", facts.FindChannel("direct_diffuse.R")!.Pass);
    }

    [Fact]
    public void Header_reading_touches_only_header_and_chunk_table()
    {
        using var folder = new TempFolder();
        string path = TestImages.Write(
            folder,
            "a.exr",
            TestImages.Make(PixelBox.OfSize(64, 64), ExrCompression.Zip, ("R", ChannelType.Half))
        );
        byte[] bytes = File.ReadAllBytes(path);
        long firstChunk;
        using (ExrFile file = Disk.Exr(path))
        {
            firstChunk = file.ChunkTables[0][0];
        }

        bytes.AsSpan((int)firstChunk).Fill(0xAA); // Whatever stands in the pixels, header facts do not notice.
        File.WriteAllBytes(path, bytes);
        Assert.Null(Disk.Facts(path, new FactsRequest(FactsDepth.Header)).Problem);
        Assert.NotNull(Disk.Facts(path, new FactsRequest(FactsDepth.Pixels)).Problem);
    }

    [Fact]
    public void An_unchanged_file_is_not_read_twice()
    {
        using var folder = new TempFolder();
        Disk.Render(Plan, folder.Path, null, []);
        var cache = new CountingCache();
        Disk.TakeIn(folder.Path, Plan, FactsDepth.Pixels, cache);
        int kept = cache.Kept;
        Disk.TakeIn(folder.Path, Plan, FactsDepth.Pixels, cache);
        Assert.Equal(36, kept);
        Assert.Equal(kept, cache.Kept);
        File.SetLastWriteTimeUtc(folder["sub/KP010_sub.1002.exr"], DateTime.UtcNow.AddMinutes(-5));
        Disk.TakeIn(folder.Path, Plan, FactsDepth.Pixels, cache);
        Assert.Equal(kept + 1, cache.Kept);
    }

    [Fact]
    public void A_stopped_run_keeps_what_it_read()
    {
        using var folder = new TempFolder();
        Disk.Render(Plan, folder.Path, null, []);
        var cache = new CountingCache();
        using var stop = new CancellationTokenSource();
        var progress = new Reporter(p =>
        {
            if (p.Files == 10)
            {
                stop.Cancel();
            }
        });
        Assert.ThrowsAny<OperationCanceledException>(() => Disk.TakeIn(folder.Path, Plan, FactsDepth.Pixels, cache, progress, stop.Token));
        Assert.InRange(cache.Kept, 10, 35);
        var intake = Disk.TakeIn(folder.Path, Plan, FactsDepth.Pixels, cache);
        Assert.Equal(36, intake.Facts.Count);
        Assert.Equal(36, cache.Kept);
    }

    [Fact]
    public void A_reading_that_is_stopped_says_so_with_the_callers_token()
    {
        using var folder = new TempFolder();
        Disk.Render(Plan, folder.Path, FrameSet.Single(1001), []);
        using var stop = new CancellationTokenSource();
        stop.Cancel();
        OperationCanceledException stopped = Assert.ThrowsAny<OperationCanceledException>(() =>
            Disk.Facts(folder["sub/KP010_sub.1001.exr"], new FactsRequest(FactsDepth.Pixels), null, stop.Token)
        );
        Assert.Equal(stop.Token, stopped.CancellationToken);
    }

    [Fact]
    public void Progress_counts_files_and_bytes_to_the_end()
    {
        using var folder = new TempFolder();
        Disk.Render(Plan, folder.Path, null, []);
        var seen = new ConcurrentBag<IntakeProgress>();
        Disk.TakeIn(folder.Path, null, FactsDepth.Header, progress: new Reporter(seen.Add));
        Assert.Equal(36, seen.Max(p => p.Files));
        Assert.All(seen, p => Assert.Equal(36, p.OfFiles));
        Assert.Equal(seen.Max(p => p.OfBytes), seen.Max(p => p.Bytes));
    }

    [Fact]
    public void A_broken_file_does_not_break_the_run()
    {
        using var folder = new TempFolder();
        Disk.Render(Plan, folder.Path, null, []);
        File.WriteAllText(folder["sub/KP010_sub.1002.exr"], new string('?', 4000));
        var intake = Disk.TakeIn(folder.Path, Plan, FactsDepth.Pixels);
        Assert.Equal(ImageProblem.Unreadable, intake.Facts["sub/KP010_sub.1002.exr"].Trouble);
        Assert.Equal(35, intake.Facts.Values.Count(f => f.Problem is null));
    }

    [Fact]
    public void Rebuild_is_measured_in_one_file_and_across_files_alike()
    {
        using TempFolder shared = new(),
            split = new();
        LayerPlan layer = Plan.Layers[0] with { Outputs = [Plan.Layers[0].Outputs[0]] };
        Plan one = Plan with { Layers = [layer] };
        Plan many = new ArrangeOutputs(["sub"], OutputArrangement.PerPass).Apply(one);
        Fault fault = new("unlit", "sub", null, FrameSet.Single(1002));
        Disk.Render(one, shared.Path, null, [fault]);
        Disk.Render(many, split.Path, null, [new Fault("black", "sub", "indirect_diffuse", FrameSet.Single(1002))]);
        var together = Disk.TakeIn(shared.Path, one, FactsDepth.Pixels);
        var apart = Disk.TakeIn(split.Path, many, FactsDepth.Pixels);
        foreach (int frame in new[] { 1001, 1002 })
        {
            var a = together.Facts[$"sub/KP010_sub.{frame}.exr"].Rebuild!;
            var b = apart.Rebuilds[("sub", frame)];
            Assert.Equal(a.MeanResidual, b.MeanResidual, 9);
            Assert.Equal(a.OffShare, b.OffShare);
            Assert.Equal(frame == 1002, a.MeanResidual > 0.05);
        }

        Assert.Equal("indirect_diffuse", apart.Rebuilds[("sub", 1002)].Guilty);
    }

    [Fact]
    public void The_document_has_the_fields_of_the_contract()
    {
        using var folder = new TempFolder();
        Disk.Render(Plan, folder.Path, FrameSet.Single(1001), []);
        FileFacts pixels = Disk.Facts(folder["sub/KP010_sub.1001.exr"], new FactsRequest(FactsDepth.Pixels));
        JsonNode file = JsonNode.Parse(new FactsDocument([pixels]).Write())!["files"]![0]!;
        Assert.Equal("exr", (string?)file["format"]);
        Assert.Null(file["problem"]);
        JsonNode part = file["parts"]![0]!;
        Assert.Equal("[0,0,47,26]", part["displayWindow"]!.ToJsonString());
        Assert.Equal("24/1", (string?)part["frameRate"]);
        JsonNode red = part["channels"]!.AsArray().Single(c => (string?)c!["name"] == "R")!;
        Assert.Equal(48 * 27, (int)red["pixels"]!);
        Assert.Equal("half", (string?)red["type"]);
        Assert.True((double)red["max"]! > 0);
    }

    [Fact]
    public void Facts_survive_being_written_and_read()
    {
        using var folder = new TempFolder();
        Disk.Render(Plan, folder.Path, FrameSet.Single(1001), [new Fault("nonfinite", "sub", null, FrameSet.Single(1001))]);
        foreach (FactsDepth depth in Enum.GetValues<FactsDepth>())
        {
            FileFacts facts = Disk.Facts(folder["sub/KP010_sub.1001.exr"], new FactsRequest(depth, RebuildRecipe.From(Plan.Layers[0])));
            string written = System.Text.Json.JsonSerializer.Serialize(facts, FactsDocument.Compact);
            FileFacts read = System.Text.Json.JsonSerializer.Deserialize<FileFacts>(written, FactsDocument.Compact)!;
            Assert.Equal(written, System.Text.Json.JsonSerializer.Serialize(read, FactsDocument.Compact));
            Assert.Equal(depth == FactsDepth.Pixels, read.Rebuild is not null);
        }
    }

    private sealed class Reporter(Action<IntakeProgress> hear) : IProgress<IntakeProgress>
    {
        public void Report(IntakeProgress value) => hear(value);
    }

    private sealed class CountingCache : IFactsCache
    {
        private readonly ConcurrentDictionary<string, FileFacts> _kept = new();
        private int _count;

        public int Kept => _count;

        public FileFacts? Find(IntakeFile file, FactsRequest request) =>
            _kept.GetValueOrDefault($"{file.Path}{file.Bytes}{file.Modified.Ticks}{request.Depth}{request.Rebuild?.Signature}");

        public void Keep(IntakeFile file, FactsRequest request, FileFacts facts)
        {
            Interlocked.Increment(ref _count);
            _kept[$"{file.Path}{file.Bytes}{file.Modified.Ticks}{request.Depth}{request.Rebuild?.Signature}"] = facts;
        }
    }
}
