using DuneCrate.Store.Rows;
using DuneCrate.Web.Access;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace DuneCrate.Web.Stations.People;

/// <summary>Where a link leads by which somebody sets their password: the first one, or a new one.</summary>
public sealed class WelcomeModel(PeopleDesk desk) : PageModel
{
    /// <summary>Key of the person.</summary>
    [BindProperty(SupportsGet = true)]
    public int Person { get; set; }

    /// <summary>The word in the link.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Code { get; set; }

    /// <summary>What went wrong, or null.</summary>
    public string? Said { get; private set; }

    /// <summary>Shows the form.</summary>
    public void OnGet() { }

    /// <summary>Sets the password and signs the person in.</summary>
    [TriesSecret]
    public async Task<IActionResult> OnPostAsync(string? password)
    {
        PersonRow? person = await desk.FindAsync(Person);
        Said = person is { ClosedAt: null }
            ? await desk.SetPasswordAsync(person, Code ?? "", password ?? "")
            : "This link was used already, or is older than a day. Ask for a new one.";
        if (Said is not null)
        {
            return Page();
        }

        await desk.InAsync(person!, "by link");
        return Redirect("/");
    }
}
