using DuneCrate.Foundation.Naming;
using DuneCrate.Shots.Planning;
using DuneCrate.Web.Access;

namespace DuneCrate.Web.Stations.Shared;

/// <summary>Tells browsers apart, so that undo takes back one's own steps, and knows what their users call themselves.</summary>
public static class EditorCookies
{
    /// <summary>Cookie with a random word for the browser.</summary>
    public const string Session = "dune-session";

    /// <summary>Cookie with the name that a user signs changes with; set by the page.</summary>
    public const string Name = "dune-name";

    /// <summary>Who makes a request.</summary>
    public static Editor Read(HttpContext http)
    {
        if (http.Visitor() is { IsAlone: false, Name: { Length: > 0 } signedIn })
        {
            return new Editor(http.Request.Cookies[Session] ?? "", signedIn);
        }

        string name = http.Request.Cookies[Name] is { } given ? Uri.UnescapeDataString(given).Trim() : "";
        return new Editor(
            http.Request.Cookies[Session] ?? "",
            name.Length > TextLimits.WordsLength ? name[..TextLimits.WordsLength] : name
        );
    }

    /// <summary>Gives browsers that have none a word of their own.</summary>
    public static Task Remember(HttpContext http, RequestDelegate next)
    {
        if (HttpMethods.IsGet(http.Request.Method) && http.Request.Cookies[Session] is null)
        {
            http.Response.Cookies.Append(
                Session,
                Guid.NewGuid().ToString("N"),
                new CookieOptions
                {
                    HttpOnly = true,
                    Secure = http.Request.IsHttps,
                    SameSite = SameSiteMode.Strict,
                    MaxAge = TimeSpan.FromDays(400),
                    IsEssential = true,
                }
            );
        }

        return next(http);
    }
}
