using DuneCrate.Shots;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Access;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace DuneCrate.Web.Stations.People;

/// <summary>Makes the first account, by the code that stands on the terminal; gone once there is one.</summary>
public sealed class FirstModel(Access.People people, PeopleDesk desk, FirstCode code, GuessPatience patience, ServeOptions options)
    : PageModel
{
    private static readonly SemaphoreSlim Turn = new(1, 1);

    /// <summary>What they sign in with.</summary>
    [BindProperty]
    public string? Account { get; set; }

    /// <summary>Their name.</summary>
    [BindProperty]
    public string? Name { get; set; }

    /// <summary>What lets whoever has to wait try then, or null.</summary>
    public string? Ticket { get; private set; }

    /// <summary>What went wrong, or null.</summary>
    public string? Said { get; private set; }

    /// <summary>Shows the form.</summary>
    public async Task<IActionResult> OnGetAsync(CancellationToken cancel) =>
        options.HasAccounts && await people.IsEmptyAsync(cancel) ? Page() : Redirect("/");

    /// <summary>Makes the account and signs its person in.</summary>
    [TriesSecret]
    public async Task<IActionResult> OnPostAsync(string? given, string? password, string? ticket, CancellationToken cancel)
    {
        await Turn.WaitAsync(cancel);
        try
        {
            if (!options.HasAccounts || !await people.IsEmptyAsync(cancel))
            {
                return Redirect("/");
            }

            // A stranger's wrong codes slow the stranger; the printed one stays as good as it was.
            var guess = new Guess("first code", $"{HttpContext.Connection.RemoteIpAddress}", null, ticket);
            if (patience.Ask(guess) is var (wait, next))
            {
                (Said, Ticket) = (SignedAs.WaitWords("codes", wait), next);
                return Page();
            }

            if (!code.Is(given))
            {
                patience.Failed(guess);
                Said =
                    "That is not the code on the terminal. It stands where the application was started, in the line that begins with "
                    + "“No account yet”.";
                return Page();
            }

            (PersonRow? person, string? problem) = await desk.AddAsync(Account, Name, password ?? "", isKeeper: true, Name?.Trim() ?? "");
            Said = problem;
            if (person is null)
            {
                return Page();
            }

            await desk.InAsync(person, "with the first account");
            return Redirect("/");
        }
        finally
        {
            Turn.Release();
        }
    }
}
