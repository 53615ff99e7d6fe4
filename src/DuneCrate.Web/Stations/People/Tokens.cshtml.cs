using DuneCrate.Foundation.History;
using DuneCrate.Foundation.Naming;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Access;
using DuneCrate.Web.Stations.Shared;
using Microsoft.AspNetCore.Mvc;

namespace DuneCrate.Web.Stations.People;

/// <summary>The tokens by which scripts act in a show.</summary>
public sealed class TokensModel(ScriptTokens tokens, ShowStore store) : AddressedPage
{
    private const int MostTokens = 100;

    /// <summary>The show.</summary>
    public ShowRow Row { get; private set; } = null!;

    /// <summary>Its tokens, newest first.</summary>
    public List<TokenRow> Tokens { get; private set; } = [];

    /// <summary>A token that was just made.</summary>
    public string? Made { get; private set; }

    /// <summary>What went wrong, or null.</summary>
    public string? Wrong { get; private set; }

    /// <summary>What a line of curl begins with.</summary>
    public string Server => $"{Request.Scheme}://{Request.Host}";

    /// <summary>Shows the tokens.</summary>
    public async Task<IActionResult> OnGetAsync(CancellationToken cancel)
    {
        if ((await store.ShowNamesAsync(cancel)).FirstOrDefault(s => s.Code == Show) is not { } row)
        {
            return NotFound();
        }

        (Row, Tokens) = (row, await tokens.ListAsync(Show, cancel));
        return Page();
    }

    /// <summary>Makes a token.</summary>
    public async Task<IActionResult> OnPostMakeAsync(string? name, CancellationToken cancel)
    {
        IActionResult page = await OnGetAsync(cancel);
        if (Row is null)
        {
            return page;
        }

        Wrong =
            string.IsNullOrWhiteSpace(name) ? "Write what the token is for, such as the name of the farm."
            : Tokens.Count >= MostTokens ? $"A show keeps {MostTokens} tokens."
            : TextLimits.Problem("The name", name);
        if (Wrong is null)
        {
            AuditEvent audited = this.Audited(HistoryKinds.People, $"token {name!.Trim()}", null, "made");
            Made = await tokens.MakeAsync(Show, name.Trim(), AuditLog.WhoOf(HttpContext), audited, cancel);
            Tokens = await tokens.ListAsync(Show, cancel);
        }

        return page;
    }

    /// <summary>Takes a token back.</summary>
    public async Task<IActionResult> OnPostRevokeAsync(int id, CancellationToken cancel)
    {
        await tokens.RevokeAsync(Show, id, name => this.Audited(HistoryKinds.People, $"token {name}", "valid", "taken back"), cancel);
        return Redirect($"/{Show}/tokens");
    }
}
