using DuneCrate.Shots.Jobs;

namespace DuneCrate.Shots.Tests.Jobs;

/// <summary>What is costly is made once however many ask, stopped when nobody waits any more, and kept within its room.</summary>
public sealed class SharedCacheTests : IDisposable
{
    private readonly SharedCache<string, string> _cache = new(100, (_, value) => value.Length);

    public void Dispose() => _cache.Dispose();

    [Fact]
    public async Task Twenty_who_ask_at_once_are_served_by_one_making()
    {
        int made = 0;
        var gate = new TaskCompletionSource();
        Task<string>[] asked =
        [
            .. Enumerable
                .Range(0, 20)
                .Select(_ =>
                    _cache.GetAsync(
                        "a",
                        async _ =>
                        {
                            Interlocked.Increment(ref made);
                            await gate.Task;
                            return "value";
                        },
                        default
                    )
                ),
        ];
        gate.SetResult();
        Assert.All(await Task.WhenAll(asked), v => Assert.Equal("value", v));
        Assert.Equal(1, made);
        Assert.Equal("value", await _cache.GetAsync("a", _ => throw new InvalidOperationException(), default));
    }

    [Fact]
    public async Task One_who_leaves_does_not_take_it_from_the_others()
    {
        var gate = new TaskCompletionSource();
        using var leave = new CancellationTokenSource();
        Func<CancellationToken, Task<string>> make = async stop =>
        {
            await gate.Task.WaitAsync(stop);
            return "value";
        };
        Task<string> one = _cache.GetAsync("a", make, leave.Token),
            other = _cache.GetAsync("a", make, default);
        await leave.CancelAsync();
        await Assert.ThrowsAnyAsync<OperationCanceledException>(() => one);
        gate.SetResult();
        Assert.Equal("value", await other);
    }

    [Fact]
    public async Task When_all_have_left_the_making_is_stopped_and_the_next_begins_anew()
    {
        var stopped = new TaskCompletionSource();
        using var leave = new CancellationTokenSource();
        Task<string> one = _cache.GetAsync(
            "a",
            async stop =>
            {
                try
                {
                    await Never(stop);
                }
                finally
                {
                    stopped.SetResult();
                }

                return "";
            },
            leave.Token
        );
        await leave.CancelAsync();
        await Assert.ThrowsAnyAsync<OperationCanceledException>(() => one);
        await stopped.Task.WaitAsync(TimeSpan.FromSeconds(30));
        Assert.Equal("anew", await _cache.GetAsync("a", _ => Task.FromResult("anew"), default));
    }

    [Fact]
    public async Task A_making_that_fails_is_not_kept()
    {
        await Assert.ThrowsAsync<IOException>(() => _cache.GetAsync("a", _ => throw new IOException(), default));
        Assert.Equal("later", await _cache.GetAsync("a", _ => Task.FromResult("later"), default));
    }

    [Fact]
    public async Task It_does_not_outgrow_its_room_and_does_not_empty_itself_whole()
    {
        for (int i = 0; i < 50; i++)
        {
            await _cache.GetAsync($"{i}", _ => Task.FromResult(new string('x', 10)), default);
        }

        int kept = Enumerable.Range(0, 50).Count(i => _cache.TryGet($"{i}", out _));
        Assert.InRange(kept, 3, 10);
    }

    [Theory]
    [InlineData(60)]
    [InlineData(100)]
    [InlineData(500)]
    public void What_comes_last_is_kept_even_when_it_takes_all_the_room(int length)
    {
        for (int i = 0; i < 9; i++)
        {
            _cache.Keep($"{i}", new string('x', 10));
        }

        _cache.Keep("large", new string('y', length));
        Assert.True(_cache.TryGet("large", out _));
        _cache.Keep("next", new string('z', length));
        Assert.True(_cache.TryGet("next", out _));
        Assert.False(length == 100 && _cache.TryGet("large", out _));
    }

    /// <summary>Ends only by cancellation.</summary>
    private static Task Never(CancellationToken stop) => new TaskCompletionSource().Task.WaitAsync(stop);
}
