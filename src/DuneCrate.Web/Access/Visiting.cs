using Microsoft.AspNetCore.Authorization;

namespace DuneCrate.Web.Access;

/// <summary>Who makes a request, from its beginning to the end of its answer.</summary>
public static class Visiting
{
    /// <summary>How often somebody who is being answered is asked for anew: events and large downloads go on for as long as they are
    /// wanted.</summary>
    private static readonly TimeSpan Every = TimeSpan.FromSeconds(2);

    /// <summary>What an answer rests on while it lasts.</summary>
    private sealed class Ground(VisitorReader.Shown shown)
    {
        public VisitorReader.Shown Shown => shown;

        public Func<CancellationToken, Task<bool>>? Holds { get; set; }
    }

    /// <summary>Finds out who makes a request, before anything asks.</summary>
    public static async Task Read(HttpContext http, RequestDelegate next)
    {
        VisitorReader reader = http.RequestServices.GetRequiredService<VisitorReader>();
        VisitorReader.Shown shown = await reader.ShownAsync(http);
        http.Features.Set(new Ground(shown));
        http.Features.Set(await reader.ReadAsync(shown, http.RequestAborted));
        await next(http);
    }

    /// <summary>
    /// Cuts an answer off, within a few seconds, when whoever gets it may not have it any more: they lost the role, signed out, or the link
    /// has run out. Source: OWASP ASVS 5.0, V8.3.2 (changes of rights hold at once).
    /// </summary>
    public static async Task Watch(HttpContext http, RequestDelegate next)
    {
        Permission? need = PermissionOf(http);
        Ground? ground = http.Features.Get<Ground>();
        string? show = http.GetRouteValue("show") as string;
        (IServiceProvider services, CancellationToken cancel) = (http.RequestServices, http.RequestAborted);
        Task answering = next(http);
        if (answering.IsCompleted || ground is null || !HttpMethods.IsGet(http.Request.Method))
        {
            await answering;
            return;
        }

        using var timer = new PeriodicTimer(Every, services.GetRequiredService<TimeProvider>());
        while (await Task.WhenAny(answering, timer.WaitForNextTickAsync(CancellationToken.None).AsTask()) != answering)
        {
            if (!await HoldsAsync(services.GetRequiredService<VisitorReader>(), ground, need, show, cancel))
            {
                http.Abort();
                break;
            }
        }

        await answering;
    }

    /// <summary>Says how it is found out, while an answer lasts, that it may go on; for what rests on more than a visitor.</summary>
    public static void HoldsWhile(this HttpContext http, Func<CancellationToken, Task<bool>> holds)
    {
        if (http.Features.Get<Ground>() is { } ground)
        {
            ground.Holds = holds;
        }
    }

    /// <summary>Who makes a request.</summary>
    public static Visitor Visitor(this HttpContext http) => http.Features.Get<Visitor>() ?? Access.Visitor.Nobody;

    private static Permission? PermissionOf(HttpContext http) =>
        http.GetEndpoint()?.Metadata.GetMetadata<AuthorizationPolicy>()?.Requirements.OfType<AccessRequirement>().FirstOrDefault()
            is { } requirement
            ? http.RequestServices.GetRequiredService<AccessHandler>().PermissionOf(http, requirement)
            : null;

    private static async Task<bool> HoldsAsync(
        VisitorReader reader,
        Ground ground,
        Permission? need,
        string? show,
        CancellationToken cancel
    )
    {
        try
        {
            return (need is not { } asked || (await reader.ReadAsync(ground.Shown, cancel)).May(asked, show))
                && (ground.Holds is not { } holds || await holds(cancel));
        }
        catch (OperationCanceledException)
        {
            return true; // They have gone already.
        }
    }
}
