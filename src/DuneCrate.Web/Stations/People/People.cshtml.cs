using DuneCrate.Foundation.History;
using DuneCrate.Shots;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Access;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace DuneCrate.Web.Stations.People;

/// <summary>Everybody with an account and what they are in which show.</summary>
public sealed class PeopleModel(PeopleDesk desk, ShowStore store, ServeOptions options) : PageModel
{
    /// <summary>Everybody, by name.</summary>
    public List<PersonRow> Everybody { get; private set; } = [];

    /// <summary>The shows that are worked on.</summary>
    public List<ShowRow> Shows { get; private set; } = [];

    /// <summary>What the new person signs in with.</summary>
    [BindProperty]
    public string? Account { get; set; }

    /// <summary>Name of the new person.</summary>
    [BindProperty]
    public string? Name { get; set; }

    /// <summary>What went wrong, or null.</summary>
    public string? Wrong { get; private set; }

    /// <summary>A link that was just made: for whom, and the address.</summary>
    public (string For, string Address)? Made { get; private set; }

    /// <summary>Whether there are accounts at all.</summary>
    public bool HasAccounts => options.HasAccounts;

    private string By => HttpContext.Visitor().Name;

    /// <summary>What a person is in a show, or null.</summary>
    public static ShowRole? RoleOf(PersonRow person, ShowRow show) => person.Memberships.FirstOrDefault(m => m.ShowId == show.Id)?.Role;

    /// <summary>Shows everybody.</summary>
    public async Task OnGetAsync(CancellationToken cancel)
    {
        Everybody = await desk.EverybodyAsync(cancel);
        Shows = [.. (await store.ShowNamesAsync(cancel)).Where(s => s.ArchivedAt is null)];
    }

    /// <summary>Makes an account and the link by which its person sets a password.</summary>
    public async Task<IActionResult> OnPostAddAsync(CancellationToken cancel)
    {
        (PersonRow? person, Wrong) = await desk.AddAsync(Account, Name, null, isKeeper: false, By);
        return person is null ? await AgainAsync(cancel) : await OnPostLinkAsync(person.Id, cancel);
    }

    /// <summary>Makes a link by which a person sets a password.</summary>
    public async Task<IActionResult> OnPostLinkAsync(int id, CancellationToken cancel)
    {
        if (await desk.FindAsync(id) is { ClosedAt: null } person)
        {
            string code = Uri.EscapeDataString(await desk.LinkAsync(person));
            Made = (person.Name, $"{Request.Scheme}://{Request.Host}/welcome?person={person.Id}&code={code}");
            await this.AuditAsync(HistoryKinds.People, $"password of {person.Name}", null, "link made");
        }

        return await AgainAsync(cancel);
    }

    /// <summary>Gives a person a role in a show, or none.</summary>
    public async Task<IActionResult> OnPostRoleAsync(int id, string? code, ShowRole? role, CancellationToken cancel)
    {
        ShowRow? show = (await store.ShowNamesAsync(cancel)).FirstOrDefault(s => s.Code == code);
        if (show is not null && await desk.FindAsync(id) is { } person)
        {
            await desk.SetRoleAsync(person, show, role, By);
        }

        return Redirect("/people");
    }

    /// <summary>Closes an account.</summary>
    public Task<IActionResult> OnPostCloseAsync(int id, CancellationToken cancel) =>
        ChangeAsync(id, p => desk.CloseAsync(p, true, By), cancel);

    /// <summary>Opens a closed account again.</summary>
    public Task<IActionResult> OnPostOpenAsync(int id, CancellationToken cancel) =>
        ChangeAsync(id, p => desk.CloseAsync(p, false, By), cancel);

    /// <summary>Lets a person look after the installation, or not any more.</summary>
    public Task<IActionResult> OnPostKeeperAsync(int id, bool on, CancellationToken cancel) =>
        ChangeAsync(id, p => desk.SetKeeperAsync(p, on, By), cancel);

    private async Task<IActionResult> ChangeAsync(int id, Func<PersonRow, Task<string?>> change, CancellationToken cancel)
    {
        Wrong = await desk.FindAsync(id) is { } person ? await change(person) : "That person has no account any more.";
        return Wrong is null ? Redirect("/people") : await AgainAsync(cancel);
    }

    private async Task<IActionResult> AgainAsync(CancellationToken cancel)
    {
        await OnGetAsync(cancel);
        return Page();
    }
}
