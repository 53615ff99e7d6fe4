using DuneCrate.Shots.Jobs;
using DuneCrate.Web.Api;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Authorization.Policy;

namespace DuneCrate.Web.Access;

/// <summary>Answers what is refused: people are led to sign in or told so, scripts are told why.</summary>
internal sealed class AccessRefusals(AccessHandler handler) : IAuthorizationMiddlewareResultHandler
{
    /// <inheritdoc/>
    public Task HandleAsync(
        RequestDelegate next,
        HttpContext context,
        AuthorizationPolicy policy,
        PolicyAuthorizationResult authorizeResult
    )
    {
        if (authorizeResult.Succeeded)
        {
            return next(context);
        }

        Measures.RefusedRequest();
        AccessRequirement? asked = policy.Requirements.OfType<AccessRequirement>().FirstOrDefault();
        return RefuseAsync(context, asked is null ? null : handler.PermissionOf(context, asked));
    }

    private static Task RefuseAsync(HttpContext http, Permission? need)
    {
        Visitor visitor = http.Visitor();
        string? show = http.GetRouteValue("show") as string;
        bool isRead = HttpMethods.IsGet(http.Request.Method) || HttpMethods.IsHead(http.Request.Method),
            isPage = AccessHandler.IsPage(http);
        if (need == Permission.Token)
        {
            http.Response.Headers.WWWAuthenticate = "Bearer";
            return SayAsync(
                http,
                visitor.TokenShow is null ? StatusCodes.Status401Unauthorized : StatusCodes.Status403Forbidden,
                visitor.TokenShow is null
                    ? "Send a token of this show: Authorization: Bearer TOKEN. A wrangler makes one on the show's page of tokens."
                    : $"This token is for another show than {show}."
            );
        }
        else if (need == Permission.MaintainConfirmed && visitor.IsKeeper)
        {
            Lead(http, $"/confirm?to={Uri.EscapeDataString(Back(http, isRead))}");
        }
        else if (visitor.IsKnown)
        {
            // Whoever is not of the show does not learn that it is there.
            int status =
                show is not null && !visitor.May(Permission.Look, show) ? StatusCodes.Status404NotFound : StatusCodes.Status403Forbidden;
            if (!isPage && !isRead)
            {
                return SayAsync(http, status, "Your role in this show does not allow that; nothing was changed.");
            }

            http.Response.StatusCode = status;
        }
        else if (isPage)
        {
            Lead(http, $"/sign-in?to={Uri.EscapeDataString(Back(http, isRead))}");
        }
        else
        {
            http.Response.StatusCode = StatusCodes.Status401Unauthorized;
        }

        return Task.CompletedTask;
    }

    /// <summary>Says to a script why it is refused.</summary>
    private static Task SayAsync(HttpContext http, int status, string problem) => ApiEndpoints.Problem(status, problem).ExecuteAsync(http);

    /// <summary>Where somebody goes on once they have signed in: what they asked for, or the page that they posted from.</summary>
    private static string Back(HttpContext http, bool isRead) => isRead ? http.Request.Path + http.Request.QueryString : http.Request.Path;

    /// <summary>Leads a browser elsewhere; a script of a page is told to go there.</summary>
    private static void Lead(HttpContext http, string to)
    {
        if (http.Request.Headers.ContainsKey("HX-Request"))
        {
            http.Response.Headers["HX-Redirect"] = to;
            http.Response.StatusCode = StatusCodes.Status401Unauthorized;
        }
        else
        {
            http.Response.Redirect(to);
        }
    }
}
