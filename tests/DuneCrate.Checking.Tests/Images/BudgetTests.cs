using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Pictures;
using DuneCrate.Checking.Rebuild;
using DuneCrate.Exr;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Listing;

namespace DuneCrate.Checking.Tests.Images;

/// <summary>
/// Reading takes bounded memory and time, whatever a picture claims. Source: OWASP Application Security Verification Standard 4.0.3,
/// V12.1.1 to V12.1.3 (size, decompression bombs,
/// quotas). The pictures are written by Debian's oiiotool.
/// </summary>
public sealed class BudgetTests : IDisposable
{
    private const long MebiByte = 1 << 20;

    private readonly TempFolder _folder = new();

    public void Dispose() => _folder.Dispose();

    [Theory]
    [InlineData("a.exr", "half", "zip")]
    [InlineData("a.exr", "half", "dwaa")]
    [InlineData("a.tif", "uint16", "zip")]
    [InlineData("a.png", "uint8", "")]
    public void A_large_picture_shrinks_while_it_is_read(string name, string type, string compression)
    {
        // 4096 × 4096 × RGB as floats are 192 MiB; the samples themselves, which pass through, at most 96.
        string[] packed = compression.Length > 0 ? ["--compression", compression] : [];
        Tool.Oiio([
            "--pattern",
            "fill:topleft=0,0.1,0.2:topright=1,1,0:bottomleft=0.5,0.5,0.5:bottomright=1,0,1",
            "4096x4096",
            "3",
            "-d",
            type,
            .. packed,
            "-o",
            _folder[name],
        ]);
        string format = IntakeFile.FormatOf(name);
        long before = GC.GetAllocatedBytesForCurrentThread();
        using PictureLines lines = PictureLines.Open(Disk.File(_folder[name]), format, ["R", "G", "B"], ReadLimits.Default);
        PicturePlanes planes = PicturePlanes.Read(lines, shrink: 8, isMean: true, box: null, default);
        long took = GC.GetAllocatedBytesForCurrentThread() - before;
        Assert.InRange(took, 0, 112 * MebiByte);
        Assert.InRange(lines.ReadingBytes, 1, 64 * MebiByte);
        Assert.Equal(512 * 512 * 3 * sizeof(float), planes.Bytes);
        Assert.Equal(0.5, planes.Planes["R"].Average(), 0.2);
    }

    [Fact]
    public void A_picture_that_needs_more_than_there_is_says_how_much()
    {
        Tool.Oiio("--create", "3000x3000", "3", "-d", "uint8", "--compression", "zip", "-o", _folder["a.png"]);
        FileFacts facts = Disk.Facts(_folder["a.png"], limits: ReadLimits.Default with { Memory = new MemoryGate(1000) });
        Assert.False(facts.Readable);
        Assert.Equal(ImageProblem.Unsupported, facts.Trouble);
        Assert.Contains("memory", facts.Problem);
    }

    [Theory]
    [InlineData("a.exr")]
    [InlineData("a.png")]
    [InlineData("a.tif")]
    [InlineData("a.tga")]
    [InlineData("a.jpg")]
    public void A_picture_that_takes_too_long_is_given_up(string name)
    {
        Tool.Picture(_folder[name], "--pattern", "noise:type=uniform", "1500x1500", "3", "-d", "uint8");
        FileFacts facts = Disk.Facts(_folder[name], limits: ReadLimits.Default with { SecondsPerFile = 1e-6 });
        Assert.False(facts.Readable);
        Assert.Contains("reading was given up after", facts.Problem);
    }

    [Theory]
    [InlineData("a.exr")]
    [InlineData("a.png")]
    [InlineData("a.tif")]
    [InlineData("a.tga")]
    [InlineData("a.jpg")]
    public void Reading_stops_when_the_asker_leaves(string name)
    {
        Tool.Picture(_folder[name], "--pattern", "noise:type=uniform", "1500x1500", "3", "-d", "uint8");
        using var stop = new CancellationTokenSource();
        stop.Cancel();
        Assert.ThrowsAny<OperationCanceledException>(() => Disk.Facts(_folder[name], cancel: stop.Token));
        using PictureLines lines = PictureLines.Open(
            Disk.File(_folder[name]),
            IntakeFile.FormatOf(name),
            ["R", "G", "B"],
            ReadLimits.Default
        );
        Assert.ThrowsAny<OperationCanceledException>(() => PicturePlanes.Read(lines, 1, false, null, stop.Token));
    }

    [Fact]
    public async Task Memory_is_shared_in_the_order_of_asking()
    {
        var gate = new MemoryGate(100);
        IDisposable first = await gate.TakeAsync(80, default);
        Task<IDisposable> second = gate.TakeAsync(50, default).AsTask(),
            third = gate.TakeAsync(10, default).AsTask();
        Assert.False(second.IsCompleted || third.IsCompleted);
        first.Dispose();
        (await second).Dispose();
        (await third).Dispose();
        Assert.Equal(0, gate.Held);
    }

    [Fact]
    public async Task All_that_there_is_may_be_taken_and_what_is_left_to_the_last_byte()
    {
        var gate = new MemoryGate(100);
        (await gate.TakeAsync(100, default)).Dispose();
        using IDisposable first = await gate.TakeAsync(60, default);
        Task<IDisposable> rest = gate.TakeAsync(40, default).AsTask(),
            late = gate.TakeAsync(60, default).AsTask();
        Assert.True(rest.IsCompletedSuccessfully);
        Assert.False(late.IsCompleted);
        Assert.Equal(100, gate.Held);
        first.Dispose();
        Assert.Equal(60, await late.ContinueWith(_ => gate.Held - 40, TaskScheduler.Default).WaitAsync(TimeSpan.FromSeconds(30)));
    }

    [Fact]
    public async Task Whoever_leaves_the_queue_lets_the_next_in()
    {
        var gate = new MemoryGate(100);
        IDisposable first = await gate.TakeAsync(80, default);
        using var leave = new CancellationTokenSource();
        Task<IDisposable> second = gate.TakeAsync(90, leave.Token).AsTask(),
            third = gate.TakeAsync(20, default).AsTask();
        await leave.CancelAsync();
        await Assert.ThrowsAnyAsync<OperationCanceledException>(() => second);
        (await third).Dispose();
        first.Dispose();
        first.Dispose(); // Once is enough, twice is no harm.
        Assert.Equal(0, gate.Held);
        await Assert.ThrowsAsync<InsufficientMemoryException>(async () => await gate.TakeAsync(101, default));
    }

    [Fact]
    public void Many_who_share_never_hold_more_than_there_is()
    {
        var gate = new MemoryGate(1000);
        long most = 0;
        Parallel.For(
            0,
            2000,
            new ParallelOptions { MaxDegreeOfParallelism = 8 },
            i =>
            {
                using (gate.Take(1 + i * 37 % 400, default))
                {
                    long held = gate.Held;
                    InterlockedMax(ref most, held);
                }
            }
        );
        Assert.InRange(most, 1, 1000);
        Assert.Equal(0, gate.Held);
    }

    [Fact]
    public void A_rebuild_over_several_files_is_read_in_bands()
    {
        Tool.Oiio(
            "--create",
            "4096x4096",
            "3",
            "--addc",
            "0.25",
            "-d",
            "half",
            "--compression",
            "zips",
            "--chnames",
            "a.R,a.G,a.B",
            "-o",
            _folder["a.exr"],
            "--chnames",
            "b.R,b.G,b.B",
            "-o",
            _folder["b.exr"],
            "--mulc",
            "2",
            "--chnames",
            "R,G,B",
            "-o",
            _folder["sum.exr"]
        );
        var recipe = new RebuildRecipe(
            ["R", "G", "B"],
            [
                new RebuildRecipeTerm(
                    "a",
                    [
                        ["a.R", "a.G", "a.B"],
                    ]
                ),
                new RebuildRecipeTerm(
                    "b",
                    [
                        ["b.R", "b.G", "b.B"],
                    ]
                ),
            ]
        );
        long before = GC.GetAllocatedBytesForCurrentThread();
        using RebuildLines lines = RebuildLines.Open(
            recipe,
            [
                (Disk.File(_folder["sum.exr"]), ["R", "G", "B"], null),
                (Disk.File(_folder["a.exr"]), ["a.R", "a.G", "a.B"], null),
                (Disk.File(_folder["b.exr"]), ["b.R", "b.G", "b.B"], null),
            ],
            ReadLimits.Default
        );
        RebuildPixels pixels = RebuildPixels.Compute(recipe, lines, shrink: 16, [], default);
        Assert.All(pixels.Residual, v => Assert.Equal(0, v, 1e-6f));
        Assert.InRange(GC.GetAllocatedBytesForCurrentThread() - before, 0, 64 * MebiByte);
    }

    private static void InterlockedMax(ref long most, long value)
    {
        for (long seen = Volatile.Read(ref most); value > seen; seen = Volatile.Read(ref most))
        {
            Interlocked.CompareExchange(ref most, value, seen);
        }
    }
}
