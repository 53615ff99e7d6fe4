using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.Mvc.RazorPages.Infrastructure;

namespace DuneCrate.Web.Access;

/// <summary>
/// The handler of a page that will run: chosen by the framework's own selector, so that rights and limits speak of the same method that
/// answers, however its name was written in the address.
/// </summary>
internal sealed class RunningHandler(IPageHandlerMethodSelector selector)
{
    private static readonly object Key = new();

    /// <summary>The handler; null where no page answers, or a page without one.</summary>
    public HandlerMethodDescriptor? Of(HttpContext http)
    {
        Endpoint? endpoint = http.GetEndpoint();
        if (
            http.Items.TryGetValue(Key, out object? known)
            && known is ValueTuple<Endpoint?, HandlerMethodDescriptor?>(var of, var chosen)
            && of == endpoint
        )
        {
            return chosen;
        }

        HandlerMethodDescriptor? handler = endpoint?.Metadata.GetMetadata<CompiledPageActionDescriptor>() is { } page
            ? selector.Select(
                new PageContext
                {
                    ActionDescriptor = page,
                    HttpContext = http,
                    RouteData = http.GetRouteData(),
                }
            )
            : null;
        http.Items[Key] = (endpoint, handler);
        return handler;
    }
}
