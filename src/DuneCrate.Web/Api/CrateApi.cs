using DuneCrate.Crates;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.History;
using DuneCrate.Shots.Crating;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Access;
using DuneCrate.Web.Api.Answers;

namespace DuneCrate.Web.Api;

/// <summary>What scripts do about crates with a token: have them sealed and read back.</summary>
internal static class CrateApi
{
    /// <summary>Adds the routes.</summary>
    public static void MapCrateApi(this IEndpointRouteBuilder routes)
    {
        routes.MapGet("/api/{show}/{shot}/crates", ListAsync);
        routes.MapPost("/api/{show}/{shot}/crates", SealAsync);
        routes.MapGet("/api/{show}/{shot}/crates/{id:int}", StateAsync);
        routes.MapPost("/api/{show}/{shot}/crates/{id:int}/verify", VerifyAsync);
    }

    /// <summary>The crates of a shot, newest first.</summary>
    private static async Task<IResult> ListAsync(
        string show,
        string shot,
        ShowStore store,
        CrateStore crateStore,
        CrateQueue crates,
        CancellationToken cancel
    ) =>
        await store.ShotAsync(show, shot, cancel) is { } row
            ? Results.Json(
                new CratesAnswer([.. (await crateStore.CratesAsync(row.Id, cancel)).Select(c => Described(c, crates))]),
                ApiJson.Ahead
            )
            : ApiEndpoints.NoShot(shot);

    /// <summary>Asks for a crate; what blocks it is said by its state.</summary>
    private static async Task<IResult> SealAsync(
        HttpContext http,
        string show,
        string shot,
        ShowStore store,
        CrateQueue crates,
        CancellationToken cancel,
        string layout = CrateLayouts.ByLayer
    )
    {
        if (await store.ShotAsync(show, shot, cancel) is not { } row)
        {
            return ApiEndpoints.NoShot(shot);
        }

        if (!CrateLayouts.All.ContainsKey(layout))
        {
            return ApiEndpoints.Problem(
                StatusCodes.Status400BadRequest,
                $"'{layout}' is not a layout; use {string.Join(" or ", CrateLayouts.All.Keys)}."
            );
        }

        if (row.Folder is null)
        {
            return ApiEndpoints.NoFolder();
        }

        int id = await crates.SealAsync(row.Id, layout, AuditLog.WhoOf(http));
        await http.AuditAsync(HistoryKinds.Sealed, $"a crate of {shot}", null, "asked for by token");
        return Results.Json(new CrateBegun(id), ApiJson.Ahead, statusCode: StatusCodes.Status202Accepted);
    }

    /// <summary>How far a crate is, and what the last reading found.</summary>
    private static async Task<IResult> StateAsync(
        string show,
        string shot,
        int id,
        ShowStore store,
        CrateStore crateStore,
        CrateQueue crates,
        CancellationToken cancel
    ) =>
        await FindAsync(store, crateStore, show, shot, id, cancel) is { } crate
            ? Results.Json(Described(crate, crates), ApiJson.Ahead)
            : NoCrate(shot, id);

    /// <summary>Asks for a crate to be read back.</summary>
    private static async Task<IResult> VerifyAsync(
        HttpContext http,
        string show,
        string shot,
        int id,
        ShowStore store,
        CrateStore crateStore,
        CrateQueue crates,
        CancellationToken cancel
    )
    {
        if (await FindAsync(store, crateStore, show, shot, id, cancel) is not { State: JobState.Done } crate)
        {
            return NoCrate(shot, id);
        }

        await http.AuditAsync(HistoryKinds.Verified, crate.Name ?? "", null, "asked for by token");
        await crates.VerifyAsync(crate);
        return Results.Json(new CrateBegun(id), ApiJson.Ahead, statusCode: StatusCodes.Status202Accepted);
    }

    private static async Task<CrateRow?> FindAsync(
        ShowStore store,
        CrateStore crateStore,
        string show,
        string shot,
        int id,
        CancellationToken cancel
    ) => await store.ShotAsync(show, shot, cancel) is { } row ? await crateStore.CrateAsync(row.Id, id, cancel) : null;

    private static IResult NoCrate(string shot, int id) =>
        ApiEndpoints.Problem(StatusCodes.Status404NotFound, $"{shot} has no sealed crate {id}.");

    private static CrateState Described(CrateRow crate, CrateQueue crates) =>
        new(
            crate.Id,
            crate.Name,
            Words.Choice(crate.State),
            crates.Live.GetValueOrDefault(crate.Id)?.Doing,
            crate.Problem,
            crate.Files,
            crate.Bytes,
            crate.By,
            crate.Verified,
            crate.VerifyProblems.Split('\n', StringSplitOptions.RemoveEmptyEntries)
        );
}
