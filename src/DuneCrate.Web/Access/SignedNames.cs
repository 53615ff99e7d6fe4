using Microsoft.AspNetCore.Mvc.Filters;

namespace DuneCrate.Web.Access;

/// <summary>
/// Whatever a page takes as the name that somebody signs with is the name of the person who signed in: what was sent is not asked.
/// Without accounts it is what they wrote.
/// </summary>
internal sealed class SignedNames : IAsyncPageFilter
{
    /// <summary>Name of the parameter.</summary>
    public const string Parameter = "by";

    public Task OnPageHandlerSelectionAsync(PageHandlerSelectedContext context) => Task.CompletedTask;

    public Task OnPageHandlerExecutionAsync(PageHandlerExecutingContext context, PageHandlerExecutionDelegate next)
    {
        if (
            context.HttpContext.Visitor() is { IsAlone: false, Name: { Length: > 0 } name }
            && context.HandlerMethod?.Parameters.Any(p => p.Name == Parameter) == true
        )
        {
            context.HandlerArguments[Parameter] = name;
        }

        return next();
    }
}
