using System.Buffers.Text;
using DuneCrate.Foundation.History;
using DuneCrate.Foundation.Naming;
using DuneCrate.Shots.Notifications;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Access;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace DuneCrate.Web.Stations.People;

/// <summary>A person's own account: password, passkeys, letters, sessions.</summary>
public sealed class AccountModel(PeopleDesk desk, UserManager<PersonRow> users, SignInManager<PersonRow> signing) : PageModel
{
    private const int MostPasskeys = 10;

    /// <summary>Whose account it is.</summary>
    public PersonRow Person { get; private set; } = null!;

    /// <summary>Their passkeys.</summary>
    public IList<UserPasskeyInfo> Passkeys { get; private set; } = [];

    /// <summary>What was done, or null.</summary>
    public string? Said { get; private set; }

    /// <summary>What went wrong, or null.</summary>
    public string? Wrong { get; private set; }

    /// <summary>Whether a browser can keep passkeys for this address: not for a bare number.</summary>
    public bool CanHavePasskeys => Uri.CheckHostName(Request.Host.Host) == UriHostNameType.Dns;

    /// <summary>How a passkey is told from others in an address.</summary>
    public static string IdOf(UserPasskeyInfo passkey) => Base64Url.EncodeToString(passkey.CredentialId);

    /// <inheritdoc/>
    public override async Task OnPageHandlerExecutionAsync(PageHandlerExecutingContext context, PageHandlerExecutionDelegate next)
    {
        if (HttpContext.Visitor().PersonId is { } id && await desk.FindAsync(id) is { } person)
        {
            Person = person;
            Passkeys = await users.GetPasskeysAsync(person);
            await next();
        }
        else
        {
            context.Result = Redirect("/");
        }
    }

    /// <summary>Shows the account.</summary>
    public void OnGet() { }

    /// <summary>Changes the password.</summary>
    [TriesSecret]
    public async Task<IActionResult> OnPostPasswordAsync(string? now, string? password)
    {
        Wrong = await desk.ChangePasswordAsync(Person, now ?? "", password ?? "");
        if (Wrong is null)
        {
            await desk.StartAsync(Person);
            Said = "Your password is changed. Every other browser that you were signed in with is signed out.";
        }

        return Page();
    }

    /// <summary>Signs out every browser.</summary>
    public async Task<IActionResult> OnPostEverywhereAsync()
    {
        await desk.SignOutEverywhereAsync(Person, Person.Name);
        await desk.OutAsync();
        return Redirect("/sign-in");
    }

    /// <summary>What the person is told of by mail.</summary>
    public async Task<IActionResult> OnPostLettersAsync(string? email, string[] kinds)
    {
        string given = email?.Trim() ?? "";
        Wrong =
            given.Length > 0 && !System.Net.Mail.MailAddress.TryCreate(given, out _)
                ? "That is no mail address."
                : TextLimits.Problem("The address", given);
        if (Wrong is null)
        {
            await desk.SetLettersAsync(Person, given, kinds.Where(NotificationKinds.Names.ContainsKey));
            Said = "Saved.";
        }

        return Page();
    }

    /// <summary>What the browser makes a passkey with.</summary>
    public async Task<IActionResult> OnPostPasskeyOptionsAsync() =>
        Content(
            await signing.MakePasskeyCreationOptionsAsync(
                new PasskeyUserEntity
                {
                    Id = Person.Id.ToString(System.Globalization.CultureInfo.InvariantCulture),
                    Name = Person.UserName!,
                    DisplayName = Person.Name,
                }
            ),
            "application/json"
        );

    /// <summary>Keeps a new passkey.</summary>
    public async Task<IActionResult> OnPostPasskeyAsync(string? credential, string? name)
    {
        Wrong =
            Passkeys.Count >= MostPasskeys
                ? $"An account keeps {MostPasskeys} passkeys; take one out first."
                : TextLimits.Problem("The name", name);
        if (Wrong is not null)
        {
            return Page();
        }

        try
        {
            PasskeyAttestationResult made = await signing.PerformPasskeyAttestationAsync(credential is { Length: > 0 } ? credential : "{}");
            if (made.Succeeded)
            {
                made.Passkey.Name = string.IsNullOrWhiteSpace(name) ? "passkey" : name.Trim();
                await users.AddOrUpdatePasskeyAsync(Person, made.Passkey);
                await this.AuditAsync(HistoryKinds.People, $"passkey {made.Passkey.Name}", null, "made");
                return Redirect("/account");
            }

            Wrong = "The browser’s passkey could not be proved. Try once more.";
        }
        catch (Exception e) when (e is InvalidOperationException or PasskeyException or System.Text.Json.JsonException)
        {
            Wrong = "The browser sent no passkey that was asked for. Try once more.";
        }

        return Page();
    }

    /// <summary>Takes a passkey out.</summary>
    public async Task<IActionResult> OnPostPasskeyGoneAsync(string? id)
    {
        if (Passkeys.FirstOrDefault(p => IdOf(p) == id) is { } passkey)
        {
            await users.RemovePasskeyAsync(Person, passkey.CredentialId);
            await this.AuditAsync(HistoryKinds.People, $"passkey {passkey.Name}", null, "taken out");
        }

        return Redirect("/account");
    }
}
