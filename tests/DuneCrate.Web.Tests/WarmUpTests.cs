using DuneCrate.Foundation.History;
using DuneCrate.Store;
using DuneCrate.Web.Operations;

namespace DuneCrate.Web.Tests;

/// <summary>The pages of the shot that was worked on last are gone through while the application starts.</summary>
public sealed class WarmUpTests(AppFixture app) : IClassFixture<AppFixture>
{
    [Fact]
    public async Task Pages_are_gone_through_at_a_start_and_nothing_changes()
    {
        await app.Service<WarmUp>().Whole;
        Assert.Empty(app.Service<WarmUp>().Warmed);
        await app.AddShotAsync("RH010");
        await app.CheckAsync("RH010");
        string[] files = Files();
        HistoryEntry[] history = await HistoryAsync();
        await app.RestartAsync();
        await app.Service<WarmUp>().Whole;
        Assert.Equal(
            [
                "/Checking/Check",
                "/Crating/Crate",
                "/Looking/Look",
                "/Planning/Grid",
                "/Receiving/Receive",
                "/Stacking/Stack",
                "/Yard/Index",
            ],
            app.Service<WarmUp>().Warmed.Order(StringComparer.Ordinal)
        );
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
