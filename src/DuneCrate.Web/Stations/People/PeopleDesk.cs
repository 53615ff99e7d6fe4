using System.Globalization;
using System.Security.Claims;
using DuneCrate.Foundation.History;
using DuneCrate.Foundation.Naming;
using DuneCrate.Foundation.Time;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Access;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;

namespace DuneCrate.Web.Stations.People;

/// <summary>Makes and changes accounts and roles, signs people in, and writes both into the history. One per request.</summary>
public sealed class PeopleDesk(
    UserManager<PersonRow> users,
    PeopleStore accounts,
    SignInManager<PersonRow> signing,
    Access.People people,
    DuneCrateContext context,
    HistoryStore history,
    GuessPatience patience,
    KnownDevices devices,
    PasswordTurns turns,
    Sessions sessions,
    TimeProvider time
)
{
    /// <summary>A password that nobody has: what is given for an account that is not there is held against it, for as long as it
    /// takes.</summary>
    private static readonly Lazy<string> NoPassword = new(() =>
        new PasswordHasher<PersonRow>(
            Microsoft.Extensions.Options.Options.Create(new PasswordHasherOptions { IterationCount = AccessRegistration.HashRounds })
        ).HashPassword(new PersonRow { Name = "" }, Sessions.NewName())
    );

    private HttpContext Http => signing.Context;

    private CancellationToken Cancel => Http.RequestAborted;

    private string Address => $"{Http.Connection.RemoteIpAddress}";

    /// <summary>Everybody, by name.</summary>
    public Task<List<PersonRow>> EverybodyAsync(CancellationToken cancel) =>
        users.Users.AsNoTracking().Include(p => p.Memberships).ThenInclude(m => m.Show).OrderBy(p => p.Name).ToListAsync(cancel);

    /// <summary>A person, or null.</summary>
    public Task<PersonRow?> FindAsync(int id) => users.FindByIdAsync(id.ToString(CultureInfo.InvariantCulture));

    /// <summary>Tries a password. Real and invented accounts take the same time and the same words.</summary>
    /// <param name="account">The account as it was written.</param>
    /// <param name="password">The password.</param>
    /// <param name="ticket">What an earlier answer gave to whoever waits, or null.</param>
    public async Task<SignedAs> SignInAsync(string? account, string? password, string? ticket)
    {
        string subject = Guess.AccountSubject(account);
        var guess = new Guess(subject, Address, devices.Find(Http, subject), ticket);
        if (patience.Ask(guess) is var (wait, given))
        {
            return new SignedAs(null, wait, given);
        }

        bool isSane = account is { Length: > 0 and <= TextLimits.WordsLength } && password is { Length: > 0 and <= PasswordRules.Most };
        PersonRow? person = isSane ? await users.FindByNameAsync(account!.Trim()) : null;
        bool isRight = await IsRightAsync(person, isSane ? password! : "");
        if (isRight && person!.ClosedAt is null)
        {
            patience.Succeeded(guess);
            return new SignedAs(person, null, null);
        }

        patience.Failed(guess);
        return new SignedAs(null, null, null);
    }

    /// <summary>Whether a password is the one that a person has; for nobody, no.</summary>
    private async Task<bool> IsRightAsync(PersonRow? person, string password)
    {
        using IDisposable turn = await turns.TakeAsync(Address, Cancel);
        return person?.PasswordHash is null
            ? users.PasswordHasher.VerifyHashedPassword(new PersonRow { Name = "" }, NoPassword.Value, password)
                == PasswordVerificationResult.Success
                && person is not null
            : await users.CheckPasswordAsync(person, password);
    }

    /// <summary>Signs a person in who has proved who they are, in a session of its own.</summary>
    public async Task InAsync(PersonRow person, string how)
    {
        person.SeenAt = time.UtcNow;
        await users.UpdateAsync(person);
        people.Forget();
        await StartAsync(person);
        devices.Remember(Http, Guess.AccountSubject(person.UserName));
        await history.AddAsync(new AuditEvent(person.Name, HistoryKinds.SignedIn, $"signed in {how}"));
    }

    /// <summary>Signs a person in with a new session, in place of the one that they have.</summary>
    /// <param name="person">The person.</param>
    /// <param name="more">What the session says beside its name.</param>
    public async Task StartAsync(PersonRow person, params Claim[] more)
    {
        await sessions.EndAsync(Http.User, Cancel);
        await signing.SignInWithClaimsAsync(person, isPersistent: false, [new Claim(Sessions.Claim, Sessions.NewName()), .. more]);
    }

    /// <summary>Signs whoever makes the request out: the session ends on the server, too.</summary>
    public async Task OutAsync()
    {
        await sessions.EndAsync(Http.User, Cancel);
        await signing.SignOutAsync();
    }

    /// <summary>Writes down that somebody could not sign in.</summary>
    public Task FailedAsync(string? account, bool mustWait) =>
        history.AddAsync(
            new AuditEvent(
                "somebody",
                HistoryKinds.SignedIn,
                $"could not sign in as {(TextLimits.Problem("", account) is null ? account?.Trim() : "…")}"
                    + (mustWait ? "; has to wait after too many wrong passwords" : "")
            )
        );

    /// <summary>Tries a person's password again; when it is right, their session says so from then on.</summary>
    public async Task<SignedAs> ConfirmAsync(PersonRow person, string? password, string? ticket)
    {
        SignedAs tried = await SignInAsync(person.UserName, password, ticket);
        if (tried.Person is not null)
        {
            string now = time.GetUtcNow().ToUnixTimeSeconds().ToString(CultureInfo.InvariantCulture);
            await StartAsync(person, new Claim(VisitorReader.ConfirmedClaim, now));
        }

        return tried;
    }

    /// <summary>Makes an account; without a password it waits for its link.</summary>
    /// <returns>The person, or what is wrong.</returns>
    public async Task<(PersonRow? Person, string? Problem)> AddAsync(
        string? account,
        string? name,
        string? password,
        bool isKeeper,
        string by
    )
    {
        if (
            (
                string.IsNullOrWhiteSpace(account) ? "Write what the person signs in with."
                : string.IsNullOrWhiteSpace(name) ? "Write the person’s name."
                : TextLimits.Problem("The name", name) ?? TextLimits.Problem("The account", account)
            ) is
            { } wrong
        )
        {
            return (null, wrong);
        }

        var person = new PersonRow
        {
            UserName = account!.Trim(),
            Name = name!.Trim(),
            IsKeeper = isKeeper,
            JoinedAt = time.UtcNow,
            Email = account.Contains('@', StringComparison.Ordinal) ? account.Trim() : null,
        };
        using IDisposable? turn = password is null ? null : await turns.TakeAsync(Address, Cancel);
        IdentityResult result = await ChangeAsync(
            () => password is null ? users.CreateAsync(person) : users.CreateAsync(person, password),
            Audited(by, $"account of {person.Name}", null, isKeeper ? "made, keeper" : "made")
        );
        return result.Succeeded ? (person, null) : (null, Words(result));
    }

    /// <summary>A word by which a person sets a new password, once, within a day.</summary>
    public Task<string> LinkAsync(PersonRow person) => users.GeneratePasswordResetTokenAsync(person);

    /// <summary>Sets a password by the word of a link.</summary>
    /// <returns>What is wrong, or null.</returns>
    public async Task<string?> SetPasswordAsync(PersonRow person, string code, string password)
    {
        using IDisposable turn = await turns.TakeAsync(Address, Cancel);
        IdentityResult result = await ChangeAsync(
            () => users.ResetPasswordAsync(person, code, password),
            Audited(person.Name, $"password of {person.Name}", null, "set by link")
        );
        return result.Succeeded ? null
            : result.Errors.Any(e => e.Code == "InvalidToken") ? "This link was used already, or is older than a day. Ask for a new one."
            : Words(result);
    }

    /// <summary>Changes a person's own password; everybody who is signed in with the old one is signed out.</summary>
    public async Task<string?> ChangePasswordAsync(PersonRow person, string now, string next)
    {
        using IDisposable turn = await turns.TakeAsync(Address, Cancel);
        IdentityResult result = await ChangeAsync(
            () => users.ChangePasswordAsync(person, now, next),
            Audited(person.Name, $"password of {person.Name}", null, "changed")
        );
        return result.Succeeded ? null
            : result.Errors.Any(e => e.Code == "PasswordMismatch") ? "The password that you have now is not right."
            : Words(result);
    }

    /// <summary>Ends everything that a person is signed in with.</summary>
    public async Task SignOutEverywhereAsync(PersonRow person, string by)
    {
        await ChangeAsync(
            () => users.UpdateSecurityStampAsync(person),
            Audited(by, $"sessions of {person.Name}", null, "signed out everywhere")
        );
    }

    /// <summary>Gives a person a role in a show, or none.</summary>
    public async Task SetRoleAsync(PersonRow person, ShowRow show, ShowRole? role, string by)
    {
        MembershipRow? row = await context.Memberships.FirstOrDefaultAsync(m => m.PersonId == person.Id && m.ShowId == show.Id);
        string before = row is null ? "none" : Foundation.Documents.Words.Choice(row.Role);
        if (role is { } given && row is not null)
        {
            row.Role = given;
        }
        else if (role is { } first)
        {
            context.Memberships.Add(
                new MembershipRow
                {
                    PersonId = person.Id,
                    ShowId = show.Id,
                    Role = first,
                }
            );
        }
        else if (row is not null)
        {
            context.Memberships.Remove(row);
        }

        string after = role is { } now ? Foundation.Documents.Words.Choice(now) : "none";
        await ChangeAsync(
            () => Task.FromResult(IdentityResult.Success),
            new AuditEvent(by, HistoryKinds.People, $"role of {person.Name}", show.Code, null, before, after)
        );
    }

    /// <summary>Closes an account or opens it again. The last keeper stays.</summary>
    /// <returns>What is wrong, or null.</returns>
    public Task<string?> CloseAsync(PersonRow person, bool isClosed, string by) =>
        ChangeAsync(
            person,
            p => p.ClosedAt = isClosed ? time.UtcNow : null,
            $"account of {person.Name}",
            person.ClosedAt is null ? "open" : "closed",
            isClosed ? "closed" : "open",
            by
        );

    /// <summary>Lets a person look after the installation, or not any more. The last keeper stays.</summary>
    /// <returns>What is wrong, or null.</returns>
    public Task<string?> SetKeeperAsync(PersonRow person, bool isKeeper, string by) =>
        ChangeAsync(
            person,
            p => p.IsKeeper = isKeeper,
            $"rights of {person.Name}",
            person.IsKeeper ? "keeper" : "by roles",
            isKeeper ? "keeper" : "by roles",
            by
        );

    /// <summary>Keeps a passkey with how often it was used.</summary>
    public Task KeepPasskeyAsync(PersonRow person, UserPasskeyInfo passkey) => users.AddOrUpdatePasskeyAsync(person, passkey);

    /// <summary>What a person is told of by mail.</summary>
    public async Task SetLettersAsync(PersonRow person, string? email, IEnumerable<string> kinds)
    {
        person.Letters = string.Join(',', kinds.Order(StringComparer.Ordinal));
        person.Email = string.IsNullOrWhiteSpace(email) ? null : email.Trim();
        await users.UpdateAsync(person);
    }

    private async Task<string?> ChangeAsync(
        PersonRow person,
        Action<PersonRow> change,
        string subject,
        string before,
        string after,
        string by
    )
    {
        change(person);
        bool hasKeeper =
            person is { IsKeeper: true, ClosedAt: null }
            || await users.Users.AnyAsync(p => p.Id != person.Id && p.IsKeeper && p.ClosedAt == null);
        if (!hasKeeper)
        {
            context.ChangeTracker.Clear();
            return "Somebody must look after the installation; choose another keeper first.";
        }

        await ChangeAsync(() => users.UpdateSecurityStampAsync(person), Audited(by, subject, before, after));
        return null;
    }

    /// <summary>Makes a change with its entry in the history; who is kept in mind is asked for anew.</summary>
    private async Task<IdentityResult> ChangeAsync(Func<Task<IdentityResult>> change, AuditEvent audited)
    {
        IdentityResult result = await accounts.ChangeAsync(change, audited);
        people.Forget();
        return result;
    }

    private static AuditEvent Audited(string by, string subject, string? before, string? after) =>
        new(by, HistoryKinds.People, subject, Before: before, After: after);

    /// <summary>What was wrong, in our own words: those of <see cref="PasswordRules"/>, or for a code of the framework.</summary>
    private static string Words(IdentityResult result) =>
        result.Errors.FirstOrDefault(e => e.Code == PasswordRules.ErrorCode)?.Description
        ?? result.Errors.FirstOrDefault()?.Code switch
        {
            "DuplicateUserName" => "There is an account with that name already.",
            "InvalidUserName" => "An account is called by letters, digits and - . _ @ +.",
            _ => "That could not be done.",
        };
}
