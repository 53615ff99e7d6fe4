using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace DuneCrate.Web.Access;

/// <summary>Holds who makes a request against what the endpoint that will run asks for. Source: OWASP ASVS 5.0, V8.3.1.</summary>
internal sealed class AccessHandler(RunningHandler running) : AuthorizationHandler<AccessRequirement>
{
    /// <summary>What is done with an endpoint that nobody said anything of: it is refused. What is no endpoint of ours (nothing at this
    /// address, another method) is answered as such.</summary>
    public static readonly AuthorizationPolicy Fallback = new AuthorizationPolicyBuilder()
        .RequireAssertion(c => c.Resource is HttpContext http && http.GetEndpoint() is not RouteEndpoint)
        .Build();

    /// <summary>What a request asks for; null when nobody said, which nobody may.</summary>
    public Permission? PermissionOf(HttpContext http, AccessRequirement requirement) =>
        requirement.Of(running.Of(http), HttpMethods.IsPost(http.Request.Method) && IsPage(http));

    /// <summary>Whether a page answers.</summary>
    public static bool IsPage(HttpContext http) => http.GetEndpoint()?.Metadata.GetMetadata<PageActionDescriptor>() is not null;

    /// <inheritdoc/>
    protected override Task HandleRequirementAsync(AuthorizationHandlerContext context, AccessRequirement requirement)
    {
        if (
            context.Resource is HttpContext http
            && PermissionOf(http, requirement) is { } need
            && http.Visitor().May(need, http.GetRouteValue("show") as string)
        )
        {
            context.Succeed(requirement);
        }

        return Task.CompletedTask;
    }
}
