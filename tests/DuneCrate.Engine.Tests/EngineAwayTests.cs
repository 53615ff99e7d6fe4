namespace DuneCrate.Engine.Tests;

/// <summary>An engine that goes and stays away, or lives and answers nothing: nobody waits for it.</summary>
public sealed class EngineAwayTests : IDisposable
{
    private readonly Broker _broker = new();
    private readonly ShotOnDisk _shot = new();

    public void Dispose()
    {
        _shot.Dispose();
        _broker.Dispose();
    }

    /// <summary>Killed, and as if the network had swallowed it: the process lives and answers nothing.</summary>
    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public async Task Engine_that_stays_away_means_reading_here(bool isFrozen)
    {
        EngineOptions soon = _broker.Options with { Away = TimeSpan.FromSeconds(1), Publish = TimeSpan.FromSeconds(1) };
        await using EngineGatherer server = _shot.Server(_broker, "stays", options: soon);
        using var away = new ManualResetEventSlim();
        using WorkerProcess worker = WorkerThatReaches(20, away.Set);
        Task<string> check = Task.Run(() => ShotOnDisk.Text(_shot.Check(server)));
        away.Wait(TimeSpan.FromSeconds(60));
        if (isFrozen)
        {
            worker.Kill();
            _broker.Signal("STOP");
        }
        else
        {
            _broker.Kill();
        }

        Assert.Equal(_shot.Here, await check.WaitAsync(TimeSpan.FromSeconds(60)));
        Assert.Contains(_shot.Said, l => l.Contains("does not answer; what is left of KP010 is read here", StringComparison.Ordinal));

        // And a check that is begun without it.
        Assert.Equal(_shot.Here, await Task.Run(() => ShotOnDisk.Text(_shot.Check(server))).WaitAsync(TimeSpan.FromSeconds(60)));
        if (isFrozen)
        {
            _broker.Signal("CONT");
        }
    }

    /// <summary>An engine and its machines are not away because somebody has set the time of day.</summary>
    [Theory]
    [InlineData(1)]
    [InlineData(-1)]
    public async Task Clock_that_jumps_by_a_day_sends_nobody_away(int days)
    {
        var clock = new JumpingClock();
        await using EngineGatherer server = _shot.Server(_broker, "jumps", options: _broker.Options with { Clock = clock });
        bool hasJumped = false;
        using WorkerProcess worker = WorkerThatReaches(
            10,
            () =>
            {
                clock.Jump(TimeSpan.FromDays(days));
                hasJumped = true;
            }
        );

        Assert.Equal(_shot.Here, await Task.Run(() => ShotOnDisk.Text(_shot.Check(server))).WaitAsync(TimeSpan.FromSeconds(120)));
        Assert.True(hasJumped, "The machine read too few files.");
        Assert.DoesNotContain(_shot.Said, l => l.Contains("is read here", StringComparison.Ordinal));
        Assert.Equal(1, server.MachinesFor(_shot.Folder));
    }

    /// <summary>Nobody who stops a check waits for an engine.</summary>
    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public async Task Stop_works_while_the_engine_is_away(bool isFrozen)
    {
        await using EngineGatherer server = _shot.Server(_broker, "stop-away");
        using var stop = new CancellationTokenSource();
        Task run = Task.Run(() => _shot.Check(server, cancel: stop.Token));
        Broker.Until(() => Queued(server) > 0 ? "" : null);
        if (isFrozen)
        {
            _broker.Signal("STOP");
        }
        else
        {
            _broker.Kill();
        }

        await stop.CancelAsync();
        await Assert.ThrowsAnyAsync<OperationCanceledException>(() => run.WaitAsync(TimeSpan.FromSeconds(4)));
        if (isFrozen)
        {
            _broker.Signal("CONT");
        }
    }

    /// <summary>A machine; something is done when it reads its so-many-th file.</summary>
    private WorkerProcess WorkerThatReaches(int file, Action then)
    {
        int files = 0;
        return new WorkerProcess(
            _broker,
            _shot.Root,
            (_, line) =>
            {
                if (line.Contains("reading", StringComparison.Ordinal) && Interlocked.Increment(ref files) == file)
                {
                    then();
                }
            }
        );
    }

    private static long Queued(EngineGatherer server) =>
        server.ViewAsync(default).GetAwaiter().GetResult().Queues.Sum(q => q.Waiting + q.Taken);
}
