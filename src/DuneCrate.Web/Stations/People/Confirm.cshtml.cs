using DuneCrate.Web.Access;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace DuneCrate.Web.Stations.People;

/// <summary>Asks for the password once more, before people or keys are changed. Source: OWASP ASVS 5.0, V7.5.3.</summary>
public sealed class ConfirmModel(PeopleDesk desk) : PageModel
{
    /// <summary>Where they go on.</summary>
    [BindProperty(SupportsGet = true)]
    public string? To { get; set; }

    /// <summary>What lets whoever has to wait try then, or null.</summary>
    public string? Ticket { get; private set; }

    /// <summary>What went wrong, or null.</summary>
    public string? Said { get; private set; }

    /// <summary>Shows the form.</summary>
    public void OnGet() { }

    /// <summary>Takes the password.</summary>
    [TriesSecret]
    public async Task<IActionResult> OnPostAsync(string? password, string? ticket)
    {
        if (HttpContext.Visitor().PersonId is not { } id || await desk.FindAsync(id) is not { } person)
        {
            return LocalRedirect("/");
        }

        SignedAs tried = await desk.ConfirmAsync(person, password, ticket);
        if (tried.Person is not null)
        {
            return LocalRedirect(Url.IsLocalUrl(To) ? To! : "/people");
        }

        Ticket = tried.Ticket;
        Said = tried.Wait is { } wait ? SignedAs.WaitWords("passwords", wait) : "That is not your password.";
        Response.StatusCode = StatusCodes.Status403Forbidden;
        return Page();
    }
}
