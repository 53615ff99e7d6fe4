using System.Security.Cryptography;
using Microsoft.AspNetCore.DataProtection;

namespace DuneCrate.Web.Access;

/// <summary>
/// Browsers that people signed in with before, by a cookie that says for which account. It lets nobody in; it only keeps strangers from
/// slowing its person down. Source: OWASP, <em>Slow Down Online Guessing Attacks with Device Cookies</em>.
/// </summary>
public sealed class KnownDevices(IDataProtectionProvider protection)
{
    private const string Cookie = "dune-device";
    private static readonly TimeSpan Life = TimeSpan.FromDays(180);

    private readonly ITimeLimitedDataProtector _names = protection.CreateProtector("DuneCrate.Devices").ToTimeLimitedDataProtector();

    /// <summary>The browser's name when it is known for an account, else null.</summary>
    public string? Find(HttpContext http, string subject)
    {
        try
        {
            return
                http.Request.Cookies[Cookie] is { Length: > 0 and < 4096 } cookie
                && _names.Unprotect(cookie).Split('\n', 2) is [var name, var of]
                && of == subject
                ? name
                : null;
        }
        catch (CryptographicException)
        {
            return null;
        }
    }

    /// <summary>Makes a browser known for an account.</summary>
    public void Remember(HttpContext http, string subject) =>
        http.Response.Cookies.Append(
            Cookie,
            _names.Protect($"{Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(16))}\n{subject}", Life),
            new CookieOptions
            {
                HttpOnly = true,
                SameSite = SameSiteMode.Strict,
                Secure = http.Request.IsHttps,
                MaxAge = Life,
                Path = "/",
            }
        );
}
