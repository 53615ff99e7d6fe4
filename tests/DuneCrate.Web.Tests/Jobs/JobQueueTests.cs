using DuneCrate.Web.Jobs;
using Microsoft.Extensions.Logging.Abstractions;

namespace DuneCrate.Web.Tests.Jobs;

/// <summary>A queue of long work: stopped at any moment, asked twice, failing, ended.</summary>
public sealed class JobQueueTests : IAsyncLifetime
{
    private readonly TestQueue _queue = new(new RunningJobs());

    public Task InitializeAsync() => _queue.StartAsync(default);

    public async Task DisposeAsync()
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

        await UntilAsync(() => _queue.Live.IsEmpty);
    }

    [Fact]
    public async Task The_same_asked_twenty_times_while_it_waits_is_done_once()
    {
        var gate = new TaskCompletionSource();
        int done = 0;
        await _queue.AskAsync(1, "first", _ => gate.Task);
        await UntilAsync(() => _queue.Begun == 1);
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
        await UntilAsync(() => _queue.Live.IsEmpty);
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
        await UntilAsync(() => _queue.Live.IsEmpty);
    }

    [Fact]
    public async Task A_stop_of_what_is_over_or_never_was_is_no_harm()
    {
        await _queue.AskAsync(1, "a", _ => Task.CompletedTask);
        await UntilAsync(() => _queue.Live.IsEmpty);
        _queue.Stop(1);
        _queue.Stop(99);
    }

    private static async Task UntilAsync(Func<bool> isSo)
    {
        for (int i = 0; i < 2000 && !isSo(); i++)
        {
            await Task.Delay(10);
        }

        Assert.True(isSo());
    }

    private sealed class TestQueue(RunningJobs live) : JobQueue(live, NullLogger.Instance)
    {
        private int _begun;

        public int Begun => Volatile.Read(ref _begun);

        public Task<int> AskAsync(int id, string same, Func<CancellationToken, Task> run) =>
            AskAsync(
                same,
                () => Task.FromResult(id),
                same,
                (_, _, stop) =>
                {
                    Interlocked.Increment(ref _begun);
                    return run(stop);
                }
            );

        protected override Task TakeUpAsync(CancellationToken ending) => Task.CompletedTask;
    }
}
