using System.Collections.Concurrent;
using DuneCrate.Shots.Jobs;
using Microsoft.Extensions.Logging.Abstractions;

namespace DuneCrate.Shots.Tests.Jobs;

/// <summary>A queue of long work: stopped at any moment, asked twice, failing, ended.</summary>
public sealed class JobQueueTests : IAsyncLifetime
{
    private readonly TestQueue _queue = new(new RunningJobs());

    public async ValueTask InitializeAsync() => await _queue.StartAsync(default);

    public async ValueTask DisposeAsync()
    {
        await _queue.StopAsync(default);
        _queue.Dispose();
    }

    [Fact]
    public async Task A_stop_at_any_moment_stops_it()
    {
        // Between asking, waiting, being taken out and running there are moments that only luck hits: many tries hit all of them.
        for (int i = 1; i <= 300; i++)
        {
            var ended = new TaskCompletionSource<bool>();
            await _queue.AskAsync(
                i,
                $"{i}",
                async stop =>
                {
                    try
                    {
                        await new TaskCompletionSource().Task.WaitAsync(TimeSpan.FromSeconds(30), stop);
                        ended.SetResult(false);
                    }
                    catch (OperationCanceledException)
                    {
                        ended.SetResult(true);
                    }
                }
            );
            for (int spin = 0; spin < i % 7 * 40; spin++)
            {
                Thread.SpinWait(20);
            }

            _queue.Stop(i);
            Assert.True(await ended.Task.WaitAsync(TimeSpan.FromSeconds(20)));
        }

        await AssertAllOverAsync();
    }

    [Fact]
    public async Task The_same_asked_twenty_times_while_it_waits_is_done_once()
    {
        var gate = new TaskCompletionSource();
        int done = 0;
        var begun = new TaskCompletionSource();
        await _queue.AskAsync(
            1,
            "first",
            _ =>
            {
                begun.SetResult();
                return gate.Task;
            }
        );
        await begun.Task.WaitAsync(TimeSpan.FromSeconds(20));
        int[] ids = await Task.WhenAll(
            Enumerable
                .Range(0, 20)
                .Select(i =>
                    _queue.AskAsync(
                        10 + i,
                        "same",
                        _ =>
                        {
                            Interlocked.Increment(ref done);
                            return Task.CompletedTask;
                        }
                    )
                )
        );
        Assert.Single(ids.Distinct());
        gate.SetResult();
        await AssertAllOverAsync();
        Assert.Equal(1, done);
    }

    [Fact]
    public async Task What_fails_holds_nothing_up()
    {
        await _queue.AskAsync(1, "bad", _ => throw new InvalidOperationException("unforeseen"));
        var done = new TaskCompletionSource();
        await _queue.AskAsync(
            2,
            "good",
            _ =>
            {
                done.SetResult();
                return Task.CompletedTask;
            }
        );
        await done.Task.WaitAsync(TimeSpan.FromSeconds(20));
        await AssertAllOverAsync();
    }

    [Fact]
    public async Task A_stop_of_what_is_over_or_never_was_is_no_harm()
    {
        await _queue.AskAsync(1, "a", _ => Task.CompletedTask);
        await AssertAllOverAsync();
        _queue.Stop(1);
        _queue.Stop(99);
    }

    /// <summary>Everything asked for so far is over: pieces are done in turn, and while the last one runs only it is live.</summary>
    private async Task AssertAllOverAsync()
    {
        const int last = 9_999;
        var live = new TaskCompletionSource<int[]>();
        await _queue.AskAsync(
            last,
            "last",
            _ =>
            {
                live.SetResult([.. _queue.Live.Keys]);
                return Task.CompletedTask;
            }
        );
        int[] left = await live.Task.WaitAsync(TimeSpan.FromSeconds(20));
        Assert.Equal([last], left);
    }

    /// <summary>Nobody waits for work that came to an end which nobody foresaw, be it while its end was noted.</summary>
    [Fact]
    public async Task Work_that_throws_is_noted_as_failed()
    {
        await _queue.AskAsync(71, "a", _ => throw new ArgumentException("unforeseen"));
        await _queue.AskAsync(72, "b", _ => _queue.NoteAsync(_ => throw new InvalidOperationException("cannot be written")));
        var after = new TaskCompletionSource();
        await _queue.AskAsync(
            73,
            "c",
            _ =>
            {
                after.SetResult();
                return Task.CompletedTask;
            }
        );
        await after.Task.WaitAsync(TimeSpan.FromSeconds(30));
        Assert.Equal([71, 72], _queue.Failed);
    }

    private sealed class TestQueue(RunningJobs live) : JobQueue(live, NullLogger.Instance)
    {
        public Task<int> AskAsync(int id, string same, Func<CancellationToken, Task> run) =>
            AskAsync(same, () => Task.FromResult(id), same, (_, _, stop) => run(stop));

        public ConcurrentQueue<int> Failed { get; } = [];

        public Task NoteAsync(Func<CancellationToken, Task> note) => NoteAsync("note it", note);

        protected override Task TakeUpAsync(CancellationToken ending) => Task.CompletedTask;

        protected override Task FailAsync(int id, CancellationToken cancel)
        {
            Failed.Enqueue(id);
            return Task.CompletedTask;
        }
    }
}
