using System.Globalization;
using System.Security.Claims;
using DuneCrate.Shots;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Identity;

namespace DuneCrate.Web.Access;

/// <summary>Reads who makes a request from its cookie or token, once at its beginning and again while its answer lasts.</summary>
internal sealed class VisitorReader(ScriptTokens tokens, People people, Sessions sessions, ServeOptions options, TimeProvider time)
{
    /// <summary>Claim that says when the password was given again.</summary>
    public const string ConfirmedClaim = "dune-confirmed";

    /// <summary>For how long the password need not be given again.</summary>
    public static readonly TimeSpan ConfirmedFor = TimeSpan.FromMinutes(15);

    private const string Bearer = "Bearer ";

    /// <summary>What a request shows of whoever makes it.</summary>
    /// <param name="Token">The token of a script, or null.</param>
    /// <param name="Signed">Whom its cookie speaks of, or null.</param>
    public sealed record Shown(string? Token, ClaimsPrincipal? Signed);

    /// <summary>What a request shows.</summary>
    public async Task<Shown> ShownAsync(HttpContext http) =>
        http.Request.Headers.Authorization.ToString() is var given && given.StartsWith(Bearer, StringComparison.Ordinal)
            ? new Shown(given[Bearer.Length..], null)
        : options.HasAccounts ? new Shown(null, (await http.AuthenticateAsync(IdentityConstants.ApplicationScheme)).Principal)
        : new Shown(null, null);

    /// <summary>Who that is now; <see cref="Visitor.Nobody"/> when cookie or token do not hold any more.</summary>
    public async Task<Visitor> ReadAsync(Shown shown, CancellationToken cancel)
    {
        if (shown.Token is { } token)
        {
            return await tokens.VisitorAsync(token, cancel);
        }

        if (!options.HasAccounts)
        {
            return Visitor.Alone;
        }

        if (
            shown.Signed is not { } principal
            || Number(principal, ClaimTypes.NameIdentifier) is not { } id
            || !await sessions.HoldsAsync(principal, cancel)
        )
        {
            return Visitor.Nobody;
        }

        return
            await people.FindAsync((int)id, cancel) is { IsOpen: true } person
            && principal.FindFirstValue(people.StampClaim) == person.Stamp
            ? person.Visitor with
            {
                IsConfirmed =
                    Number(principal, ConfirmedClaim) is { } at
                    && time.GetUtcNow() - DateTimeOffset.FromUnixTimeSeconds(at) is var since
                    && since < ConfirmedFor
                    && since > -ConfirmedFor,
            }
            : Visitor.Nobody;
    }

    private static long? Number(ClaimsPrincipal principal, string claim) =>
        long.TryParse(principal.FindFirstValue(claim), NumberStyles.None, CultureInfo.InvariantCulture, out long number) ? number : null;
}
