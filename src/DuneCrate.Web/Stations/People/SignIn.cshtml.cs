using DuneCrate.Foundation.History;
using DuneCrate.Shots;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Access;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace DuneCrate.Web.Stations.People;

/// <summary>Signs people in, by password or passkey, and out.</summary>
public sealed class SignInModel(Access.People people, PeopleDesk desk, SignInManager<PersonRow> signing, ServeOptions options) : PageModel
{
    /// <summary>What was written as the name to sign in with.</summary>
    [BindProperty]
    public string? Account { get; set; }

    /// <summary>Where they wanted to go.</summary>
    [BindProperty(SupportsGet = true)]
    public string? To { get; set; }

    /// <summary>What lets whoever has to wait try then, or null.</summary>
    public string? Ticket { get; private set; }

    /// <summary>Why they could not sign in, or null.</summary>
    public string? Said { get; private set; }

    /// <summary>Shows the form; leads on whoever is signed in, or to the first account when there is none.</summary>
    public async Task<IActionResult> OnGetAsync(CancellationToken cancel) =>
        HttpContext.Visitor().IsKnown ? LocalRedirect(Local(To))
        : options.HasAccounts && await people.IsEmptyAsync(cancel) ? Redirect("/first")
        : Page();

    /// <summary>Signs in by password. The answer does not tell whether there is such an account.</summary>
    [TriesSecret]
    public async Task<IActionResult> OnPostAsync(string? password, string? ticket)
    {
        SignedAs outcome = await desk.SignInAsync(Account, password, ticket);
        if (outcome.Person is { } person)
        {
            return await InAsync(person, "by password");
        }

        await desk.FailedAsync(Account, outcome.Wait is not null);
        Response.StatusCode = StatusCodes.Status403Forbidden;
        Ticket = outcome.Ticket;
        Said = outcome.Wait is { } wait
            ? SignedAs.WaitWords("passwords", wait)
            : "Account or password are not right. Whoever looks after the installation can give you a new link.";
        return Page();
    }

    /// <summary>What the browser asks a passkey with.</summary>
    public async Task<IActionResult> OnPostPasskeyOptionsAsync() =>
        Content(await signing.MakePasskeyRequestOptionsAsync(null), "application/json");

    /// <summary>Signs in by passkey.</summary>
    [TriesSecret]
    public async Task<IActionResult> OnPostPasskeyAsync(string? credential)
    {
        PersonRow? person = null;
        try
        {
            PasskeyAssertionResult<PersonRow> proof = await signing.PerformPasskeyAssertionAsync(
                credential is { Length: > 0 } ? credential : "{}"
            );
            person = proof is { Succeeded: true, User.ClosedAt: null } ? proof.User : null;
            if (person is not null)
            {
                await desk.KeepPasskeyAsync(person, proof.Passkey!);
            }
        }
        catch (Exception e) when (e is InvalidOperationException or PasskeyException or System.Text.Json.JsonException)
        {
            // The browser sent something else than what was asked for.
        }

        if (person is null)
        {
            Response.StatusCode = StatusCodes.Status403Forbidden;
            Said = "That passkey is not known here. Sign in by password.";
            return Page();
        }

        return await InAsync(person, "by passkey");
    }

    /// <summary>Signs out.</summary>
    public async Task<IActionResult> OnPostOutAsync()
    {
        await this.AuditAsync(HistoryKinds.SignedIn, "signed out");
        await desk.OutAsync();
        return Redirect("/sign-in");
    }

    private async Task<IActionResult> InAsync(PersonRow person, string how)
    {
        await desk.InAsync(person, how);
        return LocalRedirect(Local(To));
    }

    /// <summary>An address of this application; the yard for any other.</summary>
    private string Local(string? to) => Url.IsLocalUrl(to) ? to! : "/";
}
