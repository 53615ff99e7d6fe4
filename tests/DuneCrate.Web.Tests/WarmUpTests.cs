using DuneCrate.Foundation.History;
using DuneCrate.Shots.Views;
using DuneCrate.Store;

namespace DuneCrate.Web.Tests;

/// <summary>What pages ask of the shot that was worked on last is asked while the application starts.</summary>
public sealed class WarmUpTests(AppFixture app) : IClassFixture<AppFixture>
{
    [Fact]
    public async Task What_the_first_pages_ask_is_at_hand_after_a_start_and_nothing_changes()
    {
        await app.Service<WarmUp>().Whole;
        Assert.Null(app.Service<WarmUp>().Warmed);
        await app.AddShotAsync("RH010");
        await app.CheckAsync("RH010");
        string[] files = Files();
        HistoryEntry[] history = await HistoryAsync();
        await app.RestartAsync();
        await app.Service<WarmUp>().Whole;
        ShotView warmed = app.Service<WarmUp>().Warmed!;
        Assert.Equal("RH010", warmed.Row.Code);

        // What the pages ask for is what is kept.
        Assert.Same(warmed.Report, (await app.Service<ShotViews>().ViewAsync("KELP", "RH010", Selection.None, default))!.Report);
        Assert.Equal(files, Files());
        Assert.Equal(history, await HistoryAsync());
    }

    private async Task<HistoryEntry[]> HistoryAsync()
    {
        var entries = new List<HistoryEntry>();
        await foreach (HistoryEntry entry in app.Service<HistoryStore>().AllAsync(new HistoryQuery()))
        {
            entries.Add(entry);
        }

        return [.. entries];
    }

    private string[] Files() => [.. Directory.GetFiles(app.Data, "*", SearchOption.AllDirectories).Order(StringComparer.Ordinal)];
}
