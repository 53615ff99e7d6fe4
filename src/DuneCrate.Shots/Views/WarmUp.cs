using DuneCrate.Shots.Jobs;
using DuneCrate.Shots.Pictures;
using DuneCrate.Store;

namespace DuneCrate.Shots.Views;

/// <summary>
/// Asks what the first pages ask, of the shot that was worked on last, before the application listens: queries, documents and code that
/// the first visitor would wait for are at hand then. What takes long goes on beside requests, and what fails is left to whoever asks.
/// </summary>
public sealed class WarmUp(
    ShowStore store,
    CheckStore checkStore,
    CrateStore crateStore,
    StackStore stackStore,
    ShotViews views,
    PictureService pictures,
    ILogger<WarmUp> log
) : IHostedService, IDisposable
{
    /// <summary>How long a start waits for it.</summary>
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(2);

    private readonly CancellationTokenSource _ending = new();

    /// <summary>The work; done at once when no shot has been checked yet.</summary>
    public Task Whole { get; private set; } = Task.CompletedTask;

    /// <summary>The shot whose answers are at hand; null when there is none.</summary>
    public ShotView? Warmed { get; private set; }

    /// <inheritdoc/>
    public Task StartAsync(CancellationToken cancellationToken)
    {
        Whole = Task.Run(() => Background.DoAsync(log, "warm up", () => WarmAsync(_ending.Token), _ending.Token), cancellationToken);
        return Task.WhenAny(Whole, Task.Delay(Patience, cancellationToken));
    }

    /// <inheritdoc/>
    public async Task StopAsync(CancellationToken cancellationToken)
    {
        await _ending.CancelAsync();
        await Whole.WaitAsync(cancellationToken).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
    }

    /// <inheritdoc/>
    public void Dispose() => _ending.Dispose();

    private async Task WarmAsync(CancellationToken stop)
    {
        if ((await store.YardAsync(stop)).Where(r => r.NewestReport != 0).MaxBy(r => r.LastEventAt) is not { } latest)
        {
            return;
        }

        await Task.WhenAll(YardAsync(stop), ShotAsync(latest, stop));
    }

    private async Task YardAsync(CancellationToken stop)
    {
        await store.ShowsAsync(stop);
        await views.YardAsync(stop);
    }

    private async Task ShotAsync(YardRow latest, CancellationToken stop)
    {
        if (await views.ViewAsync(latest.Show, latest.Shot, Selection.None, stop) is not { } view)
        {
            return;
        }

        _ = (view.Stations, view.ShownRows, view.ShownFindings, view.Wrong, view.MapSummary);
        await checkStore.FinishedChecksAsync(view.Row.Id, cancel: stop);
        await crateStore.CratesAsync(view.Row.Id, stop);
        await views.ReceiversAsync(latest.Show, stop);
        await stackStore.StacksAsync(view.Row.Id, stop);
        if (
            view.Selected is { Layer: { } layer, Pass: { } pass, Frame: { } frame }
            && await pictures.FindAsync(view, new PictureAddress(layer, pass, frame), stop) is { } seen
        )
        {
            await pictures.HeaderAsync(seen, stop);
        }

        Warmed = view;
    }
}
