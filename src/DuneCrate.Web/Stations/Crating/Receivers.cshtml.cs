using DuneCrate.Crates.Recipes;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.History;
using DuneCrate.Shots.Crating;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Access;
using DuneCrate.Web.Stations.Shared;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;

namespace DuneCrate.Web.Stations.Crating;

/// <summary>Who gets crates of a show, and what they want.</summary>
public sealed class ReceiversModel(ShowStore store, ReceiverStore receiverStore) : AddressedPage
{
    private const int MostReceivers = 100;

    /// <summary>The show.</summary>
    public ShowRow Row { get; private set; } = null!;

    /// <summary>The cards, by name, an empty one behind them.</summary>
    public List<ReceiverFields> Cards { get; private set; } = [];

    /// <summary>Key of the card that is open; 0 for the empty one, null for none.</summary>
    public int? Opened { get; private set; }

    /// <summary>What was done, or null.</summary>
    public string? Done { get; private set; }

    /// <inheritdoc/>
    public override async Task OnPageHandlerExecutionAsync(PageHandlerExecutingContext context, PageHandlerExecutionDelegate next)
    {
        if (await LoadAsync())
        {
            await next();
        }
        else
        {
            context.Result = NotFound();
        }
    }

    /// <summary>Shows the cards.</summary>
    public void OnGet(int? open) => Opened = open ?? (Cards.Count == 1 ? 0 : null);

    /// <summary>Keeps a card.</summary>
    public async Task<IActionResult> OnPostAsync(CancellationToken cancel)
    {
        var typed = ReceiverFields.From(Request.Form);
        if (typed.Read(Row.Id) is { } receiver)
        {
            bool isOurs = typed.Id == 0 ? Cards.Count <= MostReceivers : Cards.Exists(c => c.Id == typed.Id);
            if (!isOurs)
            {
                return NotFound();
            }

            string after = typed.Id == 0 ? "added" : "changed";
            AuditEvent audited = this.Audited(HistoryKinds.Shows, $"receiver {receiver.Name} of {Show}", null, after);
            if (await receiverStore.SaveReceiverAsync(receiver, audited, cancel))
            {
                await LoadAsync();
                (Done, Opened) = ($"{receiver.Name} is kept. Crates for them are made so from now on.", receiver.Id);
                return Page();
            }

            typed.Saying($"Another receiver is called {receiver.Name}.");
        }

        Cards = [.. Cards.Select(c => c.Id == typed.Id ? typed : c)];
        Opened = typed.Id;
        return Page();
    }

    /// <summary>Takes a receiver away.</summary>
    public async Task<IActionResult> OnPostRemoveAsync(int id, CancellationToken cancel)
    {
        await receiverStore.RemoveReceiverAsync(
            Row.Id,
            id,
            name => this.Audited(HistoryKinds.Shows, $"receiver {name} of {Show}", null, "taken away"),
            cancel
        );
        return Redirect($"/{Show}/receivers");
    }

    /// <summary>The places in the form for moved storage.</summary>
    public (string From, string To) Move { get; private set; } = ("", "");

    /// <summary>What a move would change: receiver, site, old prefix, new one; null while nobody asked.</summary>
    public List<(ReceiverRow Receiver, RecipeSite Before, RecipeSite After)>? Moves { get; private set; }

    /// <summary>Shows what changes when storage moves.</summary>
    public async Task<IActionResult> OnPostPreviewAsync(string? from, string? to, CancellationToken cancel)
    {
        Move = (from?.Trim() ?? "", to?.Trim() ?? "");
        Moves = [];
        foreach (ReceiverRow receiver in await receiverStore.ReceiversAsync(Show, cancel))
        {
            foreach (RecipeSite site in receiver.Wants().Sites ?? [])
            {
                RecipeSite after = site.Moved(Move.From, Move.To);
                if (after != site && Move.To.Length > 0)
                {
                    Moves.Add((receiver, site, after));
                }
            }
        }

        return Page();
    }

    /// <summary>Changes the prefixes that the preview shows.</summary>
    public async Task<IActionResult> OnPostMoveAsync(string? from, string? to, CancellationToken cancel)
    {
        await OnPostPreviewAsync(from, to, cancel);
        ReceiverRow[] moved = [.. Moves!.Select(m => m.Receiver).DistinctBy(r => r.Id)];
        foreach (ReceiverRow receiver in moved)
        {
            CrateRecipe recipe = receiver.Wants();
            receiver.Recipe = (recipe with { Sites = [.. (recipe.Sites ?? []).Select(s => s.Moved(Move.From, Move.To))] }).Write();
        }

        await receiverStore.SaveReceiversAsync(
            moved,
            this.Audited(HistoryKinds.Shows, $"storage of receivers of {Show}", Move.From, Move.To),
            cancel
        );
        Done = $"{Words.Count(Moves!.Count, "prefix", "prefixes")} changed. Sealed crates keep the places that they were sealed with.";
        Moves = null;
        await LoadAsync();
        return Page();
    }

    private async Task<bool> LoadAsync()
    {
        CancellationToken cancel = HttpContext.RequestAborted;
        if ((await store.ShowNamesAsync(cancel)).FirstOrDefault(s => s.Code == Show) is not { } row)
        {
            return false;
        }

        Row = row;
        Cards = [.. (await receiverStore.ReceiversAsync(Show, cancel)).Select(ReceiverFields.From), ReceiverFields.Blank];
        return true;
    }
}
