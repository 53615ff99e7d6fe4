using DuneCrate.Store;
using DuneCrate.Store.Keeping;
using DuneCrate.Web.Api.Answers;
using Microsoft.EntityFrameworkCore;

namespace DuneCrate.Web.Api;

/// <summary>Whether the application lives, and whether it can work: for whatever starts and watches it.</summary>
internal static class HealthEndpoints
{
    private const long LeastRoom = 256L << 20;

    /// <summary>Adds the routes.</summary>
    public static void MapHealth(this IEndpointRouteBuilder routes)
    {
        routes.MapGet("/health", () => Results.Text("alive\n"));
        routes.MapGet("/ready", ReadyAsync);
    }

    private static async Task<IResult> ReadyAsync(IDbContextFactory<DuneCrateContext> contexts, DataFolder data, CancellationToken cancel)
    {
        string database,
            room = new DriveInfo(data.Path).AvailableFreeSpace >= LeastRoom ? "good" : "the disk is nearly full";
        try
        {
            await using DuneCrateContext context = await contexts.CreateDbContextAsync(cancel);
            await context.Shows.AnyAsync(cancel);
            database = "good";
        }
        catch (Exception e) when (e is not OperationCanceledException)
        {
            database = "does not answer";
        }

        bool isReady = database == "good" && room == "good";
        return Results.Json(
            new Readiness(isReady, database, room),
            ApiJson.Ahead,
            statusCode: isReady ? StatusCodes.Status200OK : StatusCodes.Status503ServiceUnavailable
        );
    }
}
