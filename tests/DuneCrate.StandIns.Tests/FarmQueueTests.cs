using DuneCrate.StandIns.Farm;
using DuneCrate.StandIns.Renderer;

namespace DuneCrate.StandIns.Tests;

/// <summary>The stand-in farm: frames come one by one, and orders are paused, cancelled and fail.</summary>
public sealed class FarmQueueTests : IDisposable
{
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(60);
    private static readonly Plan Plan = StandInPlan.Create("KP010", FrameSet.Parse("1001-1003"), 32, 18);

    private readonly TempFolder _folder = new();
    private readonly FarmQueue _queue = new();

    [Fact]
    public void An_order_is_rendered_whole_in_the_order_of_frames()
    {
        FarmJob job = Until(_queue.Add(Order()), j => j.IsOver);
        Assert.Equal((FarmState.Done, 9), (job.State, job.Done));
        Assert.Equal(
            PlannedOutput.From(Plan).Sum(o => o.Frames.LongCount),
            Directory.GetFiles(_folder.Path, "*.exr", SearchOption.AllDirectories).Length
        );
    }

    [Fact]
    public void Faults_are_rendered_as_asked()
    {
        Assert.True(Fault.TryParse("missing:kelp:1002", out Fault? fault, out _));
        Until(_queue.Add(Order() with { Faults = [fault] }), j => j.IsOver);
        Assert.False(File.Exists(_folder["kelp/KP010_kelp.1002.exr"]));
        Assert.True(File.Exists(_folder["kelp/KP010_kelp.1003.exr"]));
    }

    [Fact]
    public void A_rerun_of_some_frames_renders_those_alone()
    {
        Until(_queue.Add(Order() with { Portions = [new("kelp", FrameSet.Single(1002), 1)] }), j => j.IsOver);
        Assert.Equal(
            ["1002"],
            Directory.GetFiles(_folder.Path, "*.exr", SearchOption.AllDirectories).Select(f => f.Split('.')[^2]).Distinct()
        );
        Assert.False(Directory.Exists(_folder["sub"]));
    }

    [Fact]
    public void A_paused_order_goes_on_where_it_was()
    {
        FarmJob job = _queue.Add(Order() with { SecondsPerFrame = 0.3 });
        Until(job, j => j.Done >= 2);
        _queue.Pause(job.Id);
        Assert.Equal(FarmState.Paused, Until(job, j => j.State == FarmState.Paused).State);
        _queue.Resume(job.Id);
        Assert.Equal(9, Until(job, j => j.IsOver).Done);
    }

    [Fact]
    public void An_order_larger_than_the_farm_takes_is_refused_with_the_reason()
    {
        Plan large = Plan with { Shot = Plan.Shot with { Width = 65536, Height = 65536 } };
        Assert.Contains("up to 1920 × 1080", Assert.Throws<ArgumentException>(() => _queue.Add(Order() with { Plan = large })).Message);
        FarmOrder many = Order() with { Portions = [new("sub", FrameSet.Range(1, 100_001), 100_001)] };
        Assert.Contains("at most 100,000 layer frames", Assert.Throws<ArgumentException>(() => _queue.Add(many)).Message);
        Assert.Empty(_queue.Jobs);
    }

    [Fact]
    public void An_order_that_fails_leaves_the_next_one_to_begin()
    {
        File.WriteAllText(_folder["taken"], "");
        FarmJob job = _queue.Add(Order() with { Folder = Disk.Folder(_folder.Path).At("taken") }),
            next = _queue.Add(Order() with { Portions = [new("kelp", FrameSet.Single(1001), 1)] });
        Assert.Equal(FarmState.Failed, Until(job, j => j.IsOver).State);
        Assert.Equal(FarmState.Done, Until(next, j => j.IsOver).State);
    }

    [Fact]
    public void A_folder_that_cannot_be_written_fails_the_order()
    {
        File.WriteAllText(_folder["taken"], "");
        FarmJob job = Until(_queue.Add(Order() with { Folder = Disk.Folder(_folder.Path).At("taken") }), j => j.IsOver);
        Assert.Equal(FarmState.Failed, job.State);
        Assert.Contains("could not be rendered", job.Description);
    }

    [Theory]
    [InlineData(FarmState.Cancelled)]
    [InlineData(FarmState.Failed)]
    public void An_order_that_ends_early_keeps_its_frames_and_the_next_one_begins(FarmState end)
    {
        FarmJob job = _queue.Add(Order() with { SecondsPerFrame = 0.05 }),
            next = _queue.Add(Order() with { Portions = [new("kelp", FrameSet.Single(1001), 1)] });
        Until(job, j => j.Done >= 1);
        if (end == FarmState.Cancelled)
        {
            _queue.Cancel(job.Id);
        }
        else
        {
            _queue.Fail(job.Id);
        }

        FarmJob over = Until(job, j => j.IsOver);
        Assert.Equal(end, over.State);
        Assert.True(over.Done < over.Total);
        Assert.Equal(FarmState.Done, Until(next, j => j.IsOver).State);
        Assert.NotEmpty(Directory.GetFiles(_folder.Path, "*.exr", SearchOption.AllDirectories));
    }

    private FarmOrder Order() => new("KP010", Plan, Disk.Folder(_folder.Path), FarmOrder.Whole(Plan), [], 0);

    /// <summary>Waits for the queue to tell of a change after which the job is as awaited.</summary>
    private FarmJob Until(FarmJob job, Func<FarmJob, bool> isReady)
    {
        using var told = new SemaphoreSlim(0);
        void Note(FarmJob _) => told.Release();
        _queue.Changed += Note;
        try
        {
            while (true)
            {
                FarmJob now = _queue.Jobs.First(j => j.Id == job.Id);
                if (isReady(now))
                {
                    return now;
                }

                Assert.True(told.Wait(Patience), $"{now.State} after {now.Done} of {now.Total}");
            }
        }
        finally
        {
            _queue.Changed -= Note;
        }
    }

    public void Dispose()
    {
        _queue.Dispose();
        _folder.Dispose();
    }
}
