using DuneCrate.Shots.Crating;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Access;
using DuneCrate.Web.Stations.Shared;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace DuneCrate.Web.Stations.People;

/// <summary>One crate for somebody without an account, by a link that ends, can be taken back and is counted.</summary>
public sealed class GuestModel(GuestLinks links, CrateDownloads downloads) : AddressedPage
{
    /// <summary>The word in the link.</summary>
    public string Word => Addressed("word") ?? "";

    /// <summary>The link.</summary>
    public GuestLinkRow Link { get; private set; } = null!;

    /// <summary>The shot that the crate is of.</summary>
    public ShotRow Shot { get; private set; } = null!;

    /// <summary>Shows the crate.</summary>
    public async Task<IActionResult> OnGetAsync(CancellationToken cancel)
    {
        Response.Headers["Referrer-Policy"] = "no-referrer";
        if (await links.FindAsync(Word, cancel) is not { } found)
        {
            return NotFound();
        }

        (Link, Shot) = found;
        return Page();
    }

    /// <summary>The slip.</summary>
    public Task<IActionResult> OnGetSlipAsync(CancellationToken cancel) =>
        FetchAsync("slip", crate => downloads.SlipAsync(HttpContext, crate, cancel), cancel);

    /// <summary>The crate as a zip.</summary>
    public Task<IActionResult> OnGetZipAsync(CancellationToken cancel) =>
        FetchAsync(GuestLinks.Whole, async crate => (await downloads.ZipAsync(HttpContext, crate, cancel)).Answer, cancel);

    private async Task<IActionResult> FetchAsync(string what, Func<CrateRow, Task<IActionResult>> fetch, CancellationToken cancel)
    {
        if (await OnGetAsync(cancel) is not PageResult)
        {
            return NotFound();
        }

        // A large download goes on for long: it ends with the link.
        HttpContext.HoldsWhile(async c => await links.FindAsync(Word, c) is not null);
        await links.UsedAsync(Link, Shot, what, cancel);
        return await fetch(Link.Crate);
    }
}
