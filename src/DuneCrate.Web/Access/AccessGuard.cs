using DuneCrate.Web.Api;
using DuneCrate.Web.Operations;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace DuneCrate.Web.Access;

/// <summary>Lets a request through, or refuses it, by what <see cref="AccessTable"/> says of its address.</summary>
public static class AccessGuard
{
    /// <summary>Says who may do what they ask for; runs after the address is known and before anything answers.</summary>
    public static async Task Guard(HttpContext http, RequestDelegate next)
    {
        Visitor visitor = await VisitorReader.ReadAsync(http);
        http.Features.Set(visitor);
        if (http.GetEndpoint() is not RouteEndpoint endpoint)
        {
            await next(http);
            return;
        }

        string? show = http.GetRouteValue("show") as string;
        Need? need = NeedOf(http, endpoint);
        if (need is { } asked && visitor.May(asked, show))
        {
            await next(http);
            return;
        }

        Measures.RefusedRequest();
        await RefuseAsync(http, visitor, need, show);
    }

    /// <summary>What a request asks for; null when nobody said, which nobody may.</summary>
    private static Need? NeedOf(HttpContext http, RouteEndpoint endpoint)
    {
        string method = HttpMethods.IsHead(http.Request.Method) ? "GET" : http.Request.Method;
        return endpoint.Metadata.GetMetadata<PageActionDescriptor>() is { } page
            ? AccessTable.OfPage(method, page.ViewEnginePath, http.Request.Query["handler"].ToString())
            : AccessTable.OfRoute(method, endpoint.RoutePattern.RawText ?? "");
    }

    private static Task RefuseAsync(HttpContext http, Visitor visitor, Need? need, string? show)
    {
        bool isRead = HttpMethods.IsGet(http.Request.Method) || HttpMethods.IsHead(http.Request.Method),
            isPage = http.GetEndpoint()?.Metadata.GetMetadata<PageActionDescriptor>() is not null;
        if (need == Need.Token)
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
        else if (need == Need.KeepConfirmed && visitor.IsKeeper)
        {
            Lead(http, $"/confirm?to={Uri.EscapeDataString(Back(http, isRead))}");
        }
        else if (visitor.IsKnown)
        {
            // Whoever is not of the show does not learn that it is there.
            int status = show is not null && !visitor.May(Need.Look, show) ? StatusCodes.Status404NotFound : StatusCodes.Status403Forbidden;
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

    /// <summary>Who makes a request.</summary>
    public static Visitor Visitor(this HttpContext http) => http.Features.Get<Visitor>() ?? Access.Visitor.Nobody;
}
