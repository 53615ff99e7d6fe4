using DuneCrate.Shots.Jobs;
using Microsoft.Extensions.Configuration;

namespace DuneCrate.Shots.Tests;

/// <summary>Long work that shares its threads with other long work always comes to its end.</summary>
public class LowPrioritySchedulerTests
{
    [Fact]
    public async Task Two_long_works_that_take_every_thread_and_work_in_parallel_both_end()
    {
        using var quiet = new LowPriorityScheduler(Microsoft.Extensions.Options.Options.Create(new CheckSettings { Threads = 2 }));
        using var both = new Barrier(2);
        int Work()
        {
            int done = 0;
            for (int i = 0; i < 50; i++)
            {
                // Both threads are taken when each asks for help and then waits for helpers that never began.
                both.SignalAndWait();
                Parallel.For(
                    0,
                    64,
                    new ParallelOptions { TaskScheduler = null, MaxDegreeOfParallelism = 4 },
                    _ => Interlocked.Increment(ref done)
                );
            }

            return done;
        }

        int[] done = await Task.WhenAll(quiet.DoAsync(Work), quiet.DoAsync(Work)).WaitAsync(TimeSpan.FromSeconds(60));
        Assert.Equal([3200, 3200], done);
    }
}
