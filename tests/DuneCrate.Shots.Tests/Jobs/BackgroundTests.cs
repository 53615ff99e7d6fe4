using DuneCrate.Shots.Jobs;
using Microsoft.Extensions.Logging;

namespace DuneCrate.Shots.Tests.Jobs;

/// <summary>Work beside the pages fails alone.</summary>
public class BackgroundTests
{
    [Fact]
    public async Task What_fails_is_logged_and_goes_no_further()
    {
        var log = new KeptLog();
        await Background.DoAsync(log, "note that", () => throw new IOException("the disk is full"), default);
        (LogLevel level, string text, Exception? why) = Assert.Single(log.Lines);
        Assert.Equal((LogLevel.Error, "Could not note that", "the disk is full"), (level, text, why!.Message));
    }

    [Fact]
    public async Task What_ends_with_the_application_is_no_failure()
    {
        var log = new KeptLog();
        using var ending = new CancellationTokenSource();
        await ending.CancelAsync();
        await Assert.ThrowsAnyAsync<OperationCanceledException>(() =>
            Background.DoAsync(log, "wait", () => Task.FromCanceled(ending.Token), ending.Token)
        );
        Assert.Empty(log.Lines);
    }

    [Fact]
    public async Task What_is_done_says_nothing()
    {
        var log = new KeptLog();
        bool isDone = false;
        await Background.DoAsync(log, "do it", () => Task.FromResult(isDone = true), default);
        Assert.True(isDone);
        Assert.Empty(log.Lines);
    }
}
