using DuneCrate.Crates;
using DuneCrate.Crates.Describing;
using DuneCrate.Crates.Recipes;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Time;
using DuneCrate.Planning.Scene.Helpers;
using DuneCrate.Shots.Crating;
using DuneCrate.Shots.Views;
using DuneCrate.StandIns.Renderer;
using DuneCrate.Store;
using DuneCrate.Store.Rows;

namespace DuneCrate.Web.Demo;

/// <summary>A receiver of the demo show, a crate for anybody and one for them that they sent back.</summary>
public sealed class DemoCrates(
    ShowStore store,
    CrateStore crateStore,
    ReceiverStore receiverStore,
    HelperStore helperStore,
    CrateQueue crates,
    ShotViews views,
    TimeProvider clock
)
{
    private const string Shot = "KP010",
        Wrangler = "Mara Quill",
        Compositor = "Cosima Vale";

    private static readonly TimeSpan Rest = TimeSpan.FromMilliseconds(250);

    private static readonly CrateRecipe Wanted = new()
    {
        Receiver = "Tide Room",
        Files = RecipeFiles.PerPass,
        Compression = "zips",
        Types = new() { [PassKind.Combined] = ChannelType.Half, [PassKind.Light] = ChannelType.Half },
        Layout = "{group}/{short}/{short}.{frame}",
        Groups = new() { ["sub"] = "foreground", ["seabed"] = "background" },
        FirstFrame = 1,
        Window = RecipeWindow.Display,
        Drop = ["uv"],
        Header = new RecipeHeader(FrameRate: true, Camera: true, ColourSpace: true),
        Sites = [new RecipeSite("Tide Room", "T:/in/kelp")],
    };

    /// <summary>Makes them, unless the shot has crates or the show receivers of its own.</summary>
    public async Task MakeAsync(CancellationToken cancel)
    {
        ShotRow shot = (await store.ShotAsync("KELP", Shot, cancel))!;
        List<CrateRow> there = await crateStore.CratesAsync(shot.Id, cancel);
        if (there.Count == 0 && (await receiverStore.ReceiversAsync("KELP", cancel)).Count == 0)
        {
            await receiverStore.SaveReceiverAsync(
                new ReceiverRow
                {
                    ShowId = shot.ShowId,
                    Name = Wanted.Receiver!,
                    Contact = "desk@tideroom.example",
                    Note = "Short names; numbers begin at 1.",
                    Recipe = Wanted.Write(),
                },
                cancel: cancel
            );
            await HelpersAsync(shot, cancel);
            await SealedAsync(shot.Id, await crates.SealAsync(shot.Id, CrateLayouts.ByLayer, Wrangler), cancel);
        }

        // What was begun before the application ended is made whole.
        ReceiverRow? receiver = (await receiverStore.ReceiversAsync("KELP", cancel)).Find(r => r.Name == Wanted.Receiver);
        if (receiver is null || there.Count > 1)
        {
            return;
        }

        int id = await crates.SealAsync(shot.Id, CrateLayouts.ByLayer, Wrangler, receiver);
        if (await SealedAsync(shot.Id, id, cancel))
        {
            await receiverStore.SendBackAsync(
                new CrateRemarkRow
                {
                    CrateId = id,
                    Layer = "kelp",
                    Pass = PassKeys.Occlusion,
                    Frames = "1003-1005",
                    Words = "Grain crawls on the fronds; the floor is fine.",
                    By = Compositor,
                    At = clock.UtcNow,
                },
                cancel: cancel
            );
        }
    }

    /// <summary>The camera that it was rendered through, and what a compositor pins things to.</summary>
    private async Task HelpersAsync(ShotRow shot, CancellationToken cancel)
    {
        if (await helperStore.HelpersAsync(shot.Id, cancel) is null && HelperShots.Of(views.PlanOf(shot)) is { } of)
        {
            string table = KelpHelpers.Write(of);
            await helperStore.SaveHelpersAsync(
                new SceneHelpersRow
                {
                    ShotId = shot.Id,
                    Source = "kelp_post_helpers.csv",
                    Table = table,
                    Chosen = string.Join('\n', HelperTable.Read(table, of).Helpers.Select(h => h.Name)),
                    By = Wrangler,
                },
                cancel: cancel
            );
        }
    }

    /// <summary>Waits for the end of a sealing; whether it came to a crate.</summary>
    private async Task<bool> SealedAsync(int shot, int id, CancellationToken cancel)
    {
        while (true)
        {
            switch ((await crateStore.CrateAsync(shot, id, cancel))?.State)
            {
                case JobState.Queued or JobState.Running:
                    await Task.Delay(Rest, cancel);
                    break;
                case var state:
                    return state == JobState.Done;
            }
        }
    }
}
