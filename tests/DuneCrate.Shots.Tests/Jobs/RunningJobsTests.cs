using DuneCrate.Shots.Jobs;

namespace DuneCrate.Shots.Tests.Jobs;

/// <summary>Work that waits or runs, several pieces on one thing among it.</summary>
public class RunningJobsTests
{
    private static JobProgress Progress(string doing = "") => new() { Doing = doing };

    [Fact]
    public void What_began_is_there_until_it_ends()
    {
        var live = new RunningJobs();
        JobProgress one = Progress();
        IDisposable work = live.Begin(7, one);
        Assert.Same(one, live.Now[7]);
        work.Dispose();
        Assert.Empty(live.Now);
    }

    [Fact]
    public void The_end_of_the_first_leaves_the_second()
    {
        var live = new RunningJobs();
        IDisposable first = live.Begin(7, Progress("first"));
        live.Begin(7, Progress("second"));
        Assert.Equal("first", live.Now[7].Doing);
        first.Dispose();
        Assert.Equal("second", live.Now[7].Doing);
        first.Dispose();
        Assert.Equal("second", live.Now[7].Doing);
    }

    [Fact]
    public void Disposing_ends_only_its_own()
    {
        var live = new RunningJobs();
        JobProgress other = Progress();
        live.Begin(1, other);
        using (live.Begin(2, Progress()))
        {
            Assert.Equal([1, 2], live.Now.Keys.Order());
        }

        Assert.Same(other, Assert.Single(live.Now).Value);
    }

    [Fact]
    public void Many_threads_leave_nothing_behind()
    {
        var live = new RunningJobs();
        Parallel.For(
            0,
            2000,
            i =>
            {
                using (live.Begin(i % 5, Progress()))
                {
                    Assert.True(live.Now.ContainsKey(i % 5));
                }
            }
        );
        Assert.Empty(live.Now);
    }
}
