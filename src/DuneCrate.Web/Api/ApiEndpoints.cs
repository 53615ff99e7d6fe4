using DuneCrate.Checking.Reports;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.History;
using DuneCrate.Shots.Checking;
using DuneCrate.Shots.Receiving;
using DuneCrate.Shots.Roots;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Access;
using DuneCrate.Web.Api.Answers;

namespace DuneCrate.Web.Api;

/// <summary>What scripts of the farm do with a token: tell of arrivals, ask for checks, fetch reports.</summary>
internal static class ApiEndpoints
{
    /// <summary>Adds the routes.</summary>
    public static void MapApi(this IEndpointRouteBuilder routes)
    {
        routes.MapGet("/api/{show}/shots", ShotsAsync);
        routes.MapPost("/api/{show}/{shot}/arrivals", ArrivalsAsync);
        routes.MapPost("/api/{show}/{shot}/checks", CheckAsync);
        routes.MapGet("/api/{show}/{shot}/checks/{id:int}", StateAsync);
        routes.MapGet("/api/{show}/{shot}/report", ReportAsync);
        routes.MapGet("/api/{show}/{shot}/rerun", RerunAsync);
    }

    /// <summary>Says what is wrong, and what to do.</summary>
    public static IResult Problem(int status, string problem) =>
        Results.Json(new ProblemAnswer(problem), ApiJson.Ahead, statusCode: status);

    /// <summary>There is no such shot.</summary>
    public static IResult NoShot(string shot) => Problem(StatusCodes.Status404NotFound, $"This show has no shot {shot}.");

    /// <summary>Nobody has said where the shot's files are.</summary>
    public static IResult NoFolder() =>
        Problem(StatusCodes.Status409Conflict, "No folder was named for this shot yet; take it in on its Receive page first.");

    private static async Task<IResult> ShotsAsync(string show, ShowStore store, CancellationToken cancel) =>
        Results.Json(
            new ShotsAnswer(
                show,
                [
                    .. (await store.ShowNamesAsync(cancel))
                        .Where(s => s.Code == show)
                        .SelectMany(s => s.Shots.Where(x => x.ArchivedAt is null).Select(x => x.Code)),
                ]
            ),
            ApiJson.Ahead
        );

    /// <summary>Frames have come: the folder is listed now.</summary>
    private static async Task<IResult> ArrivalsAsync(
        string show,
        string shot,
        ShowStore store,
        StorageRoots roots,
        ArrivalWatch watch,
        CancellationToken cancel
    )
    {
        if (await store.ShotAsync(show, shot, cancel) is not { } row)
        {
            return NoShot(shot);
        }

        if (roots.Place(row.Root, row.Folder).Path is not { } folder)
        {
            return NoFolder();
        }

        await watch.LookNowAsync(row, folder);
        return Results.Accepted($"/{show}/{shot}/receive");
    }

    /// <summary>Asks for a check.</summary>
    private static async Task<IResult> CheckAsync(
        HttpContext http,
        string show,
        string shot,
        ShowStore store,
        CheckQueue checks,
        CancellationToken cancel,
        string depth = "header"
    )
    {
        if (await store.ShotAsync(show, shot, cancel) is not { } row)
        {
            return NoShot(shot);
        }

        if (row.Folder is null)
        {
            return NoFolder();
        }

        if (depth is not ("header" or "pixels"))
        {
            return Problem(StatusCodes.Status400BadRequest, $"'{depth}' is not a depth; use header or pixels.");
        }

        int id = await checks.AskAsync(row.Id, depth == "pixels");
        await http.AuditAsync(HistoryKinds.Checked, $"a check of {shot}", null, $"asked for by token, {depth}");
        return Results.Json(new CheckBegun(id), ApiJson.Ahead, statusCode: StatusCodes.Status202Accepted);
    }

    /// <summary>How far a check is.</summary>
    private static async Task<IResult> StateAsync(
        string show,
        string shot,
        int id,
        ShowStore store,
        CheckStore checkStore,
        CheckQueue checks,
        CancellationToken cancel
    )
    {
        if (await store.ShotAsync(show, shot, cancel) is not { } row || await checkStore.CheckAsync(row.Id, id, cancel) is not { } check)
        {
            return Problem(StatusCodes.Status404NotFound, $"{shot} has no check {id}.");
        }

        return Results.Json(
            new CheckState(id, Words.Choice(check.State), checks.Live.GetValueOrDefault(id)?.Doing, check.Problem),
            ApiJson.Ahead
        );
    }

    /// <summary>The newest report, or that of one check.</summary>
    private static async Task<IResult> ReportAsync(
        string show,
        string shot,
        ShowStore store,
        CheckStore checkStore,
        FindingStore findingStore,
        CancellationToken cancel,
        int? check = null
    ) =>
        await FindAsync(store, checkStore, findingStore, show, shot, check, cancel) is { } report
            ? Results.Text(report.Write(), "application/json")
            : Problem(StatusCodes.Status404NotFound, $"There is no finished check of {shot}.");

    /// <summary>What must be rendered again.</summary>
    private static async Task<IResult> RerunAsync(
        string show,
        string shot,
        ShowStore store,
        CheckStore checkStore,
        FindingStore findingStore,
        CancellationToken cancel
    ) =>
        await FindAsync(store, checkStore, findingStore, show, shot, null, cancel) is { } report
            ? Results.Text(RerunList.From(report, 0, shot).Write(), "application/json")
            : Problem(StatusCodes.Status404NotFound, $"There is no finished check of {shot}.");

    private static async Task<CheckReport?> FindAsync(
        ShowStore store,
        CheckStore checkStore,
        FindingStore findingStore,
        string show,
        string shot,
        int? check,
        CancellationToken cancel
    )
    {
        if (await store.ShotAsync(show, shot, cancel) is not { } row)
        {
            return null;
        }

        int id = check ?? await checkStore.NewestReportIdAsync(row.Id, cancel);
        return
            await checkStore.CheckAsync(row.Id, id, cancel) is { State: JobState.Done }
            && await checkStore.ReportAsync(id, cancel) is { } report
            ? report.With([.. (await findingStore.WaiversAsync(row.Id, cancel)).Select(FindingStore.ToWaiver)])
            : null;
    }
}
