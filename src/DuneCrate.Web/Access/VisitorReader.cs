using System.Globalization;
using System.Security.Claims;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Identity;

namespace DuneCrate.Web.Access;

/// <summary>Reads who makes a request from its cookie or token.</summary>
internal static class VisitorReader
{
    /// <summary>Claim that says when the password was given again.</summary>
    public const string ConfirmedClaim = "dune-confirmed";

    /// <summary>For how long the password need not be given again.</summary>
    public static readonly TimeSpan ConfirmedFor = TimeSpan.FromMinutes(15);

    private const string Bearer = "Bearer ";

    /// <summary>Who makes a request; <see cref="Visitor.Nobody"/> when cookie or token do not hold any more.</summary>
    public static async Task<Visitor> ReadAsync(HttpContext http)
    {
        IServiceProvider services = http.RequestServices;
        if (http.Request.Headers.Authorization.ToString() is var given && given.StartsWith(Bearer, StringComparison.Ordinal))
        {
            return await services.GetRequiredService<ScriptTokens>().VisitorAsync(given[Bearer.Length..], http.RequestAborted);
        }

        if (!services.GetRequiredService<ServeOptions>().HasAccounts)
        {
            return Visitor.Alone;
        }

        AuthenticateResult signed = await http.AuthenticateAsync(IdentityConstants.ApplicationScheme);
        if (signed.Principal is not { } principal || Number(principal, ClaimTypes.NameIdentifier) is not { } id)
        {
            return Visitor.Nobody;
        }

        People people = services.GetRequiredService<People>();
        return
            await people.FindAsync((int)id, http.RequestAborted) is { IsOpen: true } person
            && principal.FindFirstValue(people.StampClaim) == person.Stamp
            ? person.Visitor with
            {
                IsConfirmed =
                    Number(principal, ConfirmedClaim) is { } at
                    && DateTimeOffset.UtcNow - DateTimeOffset.FromUnixTimeSeconds(at) < ConfirmedFor,
            }
            : Visitor.Nobody;
    }

    private static long? Number(ClaimsPrincipal principal, string claim) =>
        long.TryParse(principal.FindFirstValue(claim), NumberStyles.None, CultureInfo.InvariantCulture, out long number) ? number : null;
}
