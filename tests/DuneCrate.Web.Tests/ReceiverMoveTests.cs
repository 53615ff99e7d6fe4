using DuneCrate.Crates.Recipes;
using DuneCrate.Shots.Crating;
using DuneCrate.Store;
using DuneCrate.Store.Rows;

namespace DuneCrate.Web.Tests;

/// <summary>Places of receivers' sites when storage moves: seen first, then changed.</summary>
public class ReceiverMoveTests(AppFixture app) : IClassFixture<AppFixture>
{
    [Fact]
    public async Task Places_are_changed_after_they_were_seen_and_by_whole_steps()
    {
        var store = app.Service<ShowStore>();
        ShowRow show = (await store.ShowNamesAsync()).Single(s => s.Code == "KELP");
        await app.Service<ReceiverStore>()
            .SaveReceiverAsync(
                new ReceiverRow
                {
                    ShowId = show.Id,
                    Name = "Ebb House",
                    Recipe = new CrateRecipe { Sites = [new("hall", "/in/kelp"), new("loft", "/in/kelp2"), new("cellar", "/in")] }.Write(),
                }
            );
        (string page, _) = await app.PostAsync("/KELP/receivers", "?handler=Preview", ("from", "/in/kelp/"), ("to", "/vault"));
        Assert.Equal(2, page.Split("data-move").Length);
        Assert.Contains("Change 1 prefix", page);
        Assert.Contains(
            "No site lies there",
            (await app.PostAsync("/KELP/receivers", "?handler=Preview", ("from", "/i"), ("to", "/v"))).Text
        );
        string[] Prefixes() => [.. Row().Result.Wants().Sites!.Value.Select(s => s.Prefix)];
        async Task<ReceiverRow> Row() => (await app.Service<ReceiverStore>().ReceiversAsync("KELP")).Single(r => r.Name == "Ebb House");
        Assert.Equal(["/in/kelp", "/in/kelp2", "/in"], Prefixes());
        await app.PostAsync("/KELP/receivers", "?handler=Move", ("from", "/in"), ("to", "T:/vault/in"));
        Assert.Equal(["T:/vault/in/kelp", "T:/vault/in/kelp2", "T:/vault/in"], Prefixes());
    }
}
