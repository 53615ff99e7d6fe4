using System.Collections.Concurrent;
using System.Collections.Immutable;
using DuneCrate.Shots.Jobs;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Access;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace DuneCrate.Web.Operations;

/// <summary>
/// Goes through the pages of the shot that was worked on last before the application listens, with nobody to see them: queries, code and
/// documents that the first visitor would wait for are at hand then. What takes long goes on beside requests, and a page that fails is
/// left to whoever asks for it.
/// </summary>
public sealed class WarmUp(ShowStore store, IServiceScopeFactory scopes, ILogger<WarmUp> log) : IHostedService, IDisposable
{
    private const int Concurrency = 2;

    private static readonly string[] Pages =
    [
        "/Yard/Index",
        "/Planning/Grid",
        "/Checking/Check",
        "/Receiving/Receive",
        "/Crating/Crate",
        "/Looking/Look",
        "/Stacking/Stack",
    ];

    /// <summary>How long a start waits for it.</summary>
    private static readonly TimeSpan Patience = TimeSpan.FromSeconds(2);

    private readonly CancellationTokenSource _ending = new();
    private readonly ConcurrentQueue<string> _warmed = [];

    /// <summary>The pages that were answered.</summary>
    public IReadOnlyCollection<string> Warmed => _warmed;

    /// <summary>The pages as they are gone through; done at once when no shot has been checked yet.</summary>
    public Task Whole { get; private set; } = Task.CompletedTask;

    /// <summary>Begins, as soon as it is known which pages there are.</summary>
    public void Begin(IEndpointRouteBuilder routes) =>
        Whole = Task.Run(() => Background.DoAsync(log, "warm up the first pages", () => WarmAsync(routes, _ending.Token), _ending.Token));

    /// <inheritdoc/>
    public Task StartAsync(CancellationToken cancellationToken) => Task.WhenAny(Whole, Task.Delay(Patience, cancellationToken));

    /// <inheritdoc/>
    public async Task StopAsync(CancellationToken cancellationToken)
    {
        await _ending.CancelAsync();
        await Whole.WaitAsync(cancellationToken).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
    }

    /// <inheritdoc/>
    public void Dispose() => _ending.Dispose();

    private async Task WarmAsync(IEndpointRouteBuilder routes, CancellationToken stop)
    {
        if ((await store.YardAsync(stop)).Where(r => r.NewestReport != 0).MaxBy(r => r.LastEventAt) is not { } shot)
        {
            return;
        }

        Endpoint[] known = [.. routes.DataSources.SelectMany(s => s.Endpoints)];
        await Parallel.ForEachAsync(
            Pages,
            new ParallelOptions { MaxDegreeOfParallelism = Concurrency, CancellationToken = stop },
            (page, cancel) =>
                WarmAsync(known.First(e => e.Metadata.GetMetadata<PageActionDescriptor>()?.ViewEnginePath == page), shot, cancel)
        );
    }

    /// <summary>Answers one page into nothing, for somebody of the show who may do everything there.</summary>
    private async ValueTask WarmAsync(Endpoint page, YardRow shot, CancellationToken stop)
    {
        await using AsyncServiceScope scope = scopes.CreateAsyncScope();
        var http = new DefaultHttpContext { RequestServices = scope.ServiceProvider, RequestAborted = stop };
        http.Request.Method = HttpMethods.Get;
        (http.Request.Scheme, http.Request.Host) = ("http", new HostString("localhost"));
        http.Request.RouteValues = new RouteValueDictionary(page.Metadata.GetRequiredMetadata<PageActionDescriptor>().RouteValues)
        {
            ["show"] = shot.Show,
            ["shot"] = shot.Shot,
        };
        http.Features.Set(new Visitor("", null, false, ImmutableDictionary<string, ShowRole>.Empty.Add(shot.Show, ShowRole.Wrangler)));
        http.SetEndpoint(page);
        await page.RequestDelegate!(http);
        if (http.Response.StatusCode == StatusCodes.Status200OK)
        {
            _warmed.Enqueue(page.DisplayName ?? "");
        }
    }
}
