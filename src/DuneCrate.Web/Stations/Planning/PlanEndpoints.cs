using DuneCrate.Crates.Recipes;
using DuneCrate.Foundation.Documents;
using DuneCrate.Foundation.Failures;
using DuneCrate.Planning.Edits;
using DuneCrate.Shots.Live;
using DuneCrate.Shots.Planning;
using DuneCrate.Shots.Roots;
using DuneCrate.Shots.Views;
using DuneCrate.Store;
using DuneCrate.Store.Rows;
using DuneCrate.Web.Stations.Planning.Grids;
using DuneCrate.Web.Stations.Shared;
using Microsoft.AspNetCore.Antiforgery;

namespace DuneCrate.Web.Stations.Planning;

/// <summary>What the grids of the Plan station ask and send, and the events of a shot.</summary>
public static class PlanEndpoints
{
    /// <summary>Adds the routes.</summary>
    public static void MapPlans(this IEndpointRouteBuilder routes)
    {
        routes.MapGet("/{show}/{shot}/plan/model", ModelAsync);
        routes.MapPost("/{show}/{shot}/plan/edit", EditAsync);
        routes.MapPost(
            "/{show}/{shot}/plan/undo",
            (HttpContext http, string show, string shot, string view, Services of) =>
                StepAsync(http, show, shot, view, of, (views, id, editor) => views.UndoAsync(id, editor))
        );
        routes.MapPost(
            "/{show}/{shot}/plan/redo",
            (HttpContext http, string show, string shot, string view, Services of) =>
                StepAsync(http, show, shot, view, of, (views, id, editor) => views.RedoAsync(id, editor))
        );
        routes.MapGet("/{show}/{shot}/events", EventsAsync);
        routes.MapGet(
            "/events",
            (HttpContext http, ShotEvents events, IHostApplicationLifetime lifetime) =>
                Stream(http, events, ShotEvents.EveryShot, seesArrivals: false, lifetime)
        );
    }

    /// <summary>What the routes need, asked for at once.</summary>
    /// <param name="Shows">Shows and shots.</param>
    /// <param name="Plans">Changes.</param>
    /// <param name="Views">Parsed plans.</param>
    /// <param name="Roots">Storage roots.</param>
    /// <param name="Tokens">Form tokens.</param>
    public sealed record Services(ShowStore Shows, PlanEditor Plans, ShotViews Views, StorageRoots Roots, IAntiforgery Tokens)
    {
        /// <summary>Takes them from the request's services.</summary>
        public static ValueTask<Services> BindAsync(HttpContext http)
        {
            IServiceProvider s = http.RequestServices;
            return ValueTask.FromResult(
                new Services(
                    s.GetRequiredService<ShowStore>(),
                    s.GetRequiredService<PlanEditor>(),
                    s.GetRequiredService<ShotViews>(),
                    s.GetRequiredService<StorageRoots>(),
                    s.GetRequiredService<IAntiforgery>()
                )
            );
        }
    }

    private static async Task<IResult> ModelAsync(HttpContext http, string show, string shot, string view, Services of) =>
        await of.Shows.ShotAsync(show, shot) is { } row
            ? Json(await GridAsync(of, row, view, EditorCookies.Read(http)))
            : Results.NotFound();

    private static async Task<IResult> EditAsync(HttpContext http, string show, string shot, Services of)
    {
        if (!await of.Tokens.IsRequestValidAsync(http))
        {
            return Refused("page", "The page was too old for that. Reload it and try once more; nothing was changed.");
        }

        EditRequest request;
        PlanEdit edit;
        try
        {
            using var body = new StreamReader(http.Request.Body);
            request = DocumentJson.Read<EditRequest>(await body.ReadToEndAsync(http.RequestAborted), PlanningJson.Ahead);
            edit = PlanEdit.Read(request.Edit.ToJsonString());
        }
        catch (DocumentException e)
        {
            return Refused("edit", $"That change cannot be read. {DocumentJson.Problem(e)}");
        }

        return await of.Shows.ShotAsync(show, shot) is { } row
            ? await AnswerAsync(
                of,
                show,
                shot,
                request.View,
                EditorCookies.Read(http),
                await of.Plans.EditAsync(row.Id, request.Revision, edit, EditorCookies.Read(http))
            )
            : Results.NotFound();
    }

    private static async Task<IResult> StepAsync(
        HttpContext http,
        string show,
        string shot,
        string view,
        Services of,
        Func<PlanEditor, int, Editor, Task<EditOutcome>> step
    )
    {
        if (!await of.Tokens.IsRequestValidAsync(http))
        {
            return Refused("page", "The page was too old for that. Reload it and try once more; nothing was changed.");
        }

        Editor editor = EditorCookies.Read(http);
        return await of.Shows.ShotAsync(show, shot) is { } row
            ? await AnswerAsync(of, show, shot, view, editor, await step(of.Plans, row.Id, editor))
            : Results.NotFound();
    }

    private static async Task<IResult> AnswerAsync(Services of, string show, string shot, string view, Editor editor, EditOutcome outcome)
    {
        GridModel model = await GridAsync(of, (await of.Shows.ShotAsync(show, shot))!, view, editor);
        return outcome.Problem is { } problem
                ? Json(
                    new EditAnswer
                    {
                        Field = outcome.Field,
                        Problem = problem,
                        Model = model,
                    },
                    StatusCodes.Status422UnprocessableEntity
                )
            : !outcome.Conflicts.IsEmpty
                ? Json(
                    new EditAnswer
                    {
                        Problem =
                            $"Somebody else changed {string.Join(", ", outcome.Conflicts.Take(4))} after you opened it, so "
                            + "your change was not made. What you see now is theirs; make yours once more if it still holds.",
                        Model = model,
                    },
                    StatusCodes.Status409Conflict
                )
            : Json(
                new EditAnswer
                {
                    Revision = outcome.Revision,
                    Said = outcome.Said,
                    Model = model,
                }
            );
    }

    private static async Task<GridModel> GridAsync(Services of, ShotRow row, string view, Editor editor)
    {
        IReadOnlyList<CrateRecipe> receivers = await of.Views.ReceiversAsync(row.Show.Code);
        GridModel grid = new PlanView(of.Views.PlanOf(row), row.Revision, of.Roots.FreeBytes(row.Root), receivers).Grid(view);
        (string? undo, string? redo) = await of.Plans.StepsAsync(row.Id, editor);
        return grid with { Undo = undo, Redo = redo };
    }

    private static async Task<IResult> EventsAsync(
        HttpContext http,
        string show,
        string shot,
        ShowStore shows,
        ShotEvents events,
        IHostApplicationLifetime lifetime
    )
    {
        if (await shows.ShotAsync(show, shot) is not { } row)
        {
            return Results.NotFound();
        }

        return Stream(http, events, row.Id, http.Request.Query.ContainsKey("arrivals"), lifetime);
    }

    /// <summary>Server-sent events until the page is closed or the application ends.</summary>
    private static IResult Stream(HttpContext http, ShotEvents events, int shotId, bool seesArrivals, IHostApplicationLifetime lifetime)
    {
        var ends = CancellationTokenSource.CreateLinkedTokenSource(http.RequestAborted, lifetime.ApplicationStopping);
        http.Response.RegisterForDispose(ends);
        return TypedResults.ServerSentEvents(events.ListenAsync(shotId, seesArrivals, ends.Token));
    }

    private static IResult Json<T>(T value, int status = StatusCodes.Status200OK) =>
        Results.Json(value, PlanningJson.Ahead, statusCode: status);

    private static IResult Refused(string field, string problem) =>
        Json(new EditAnswer { Field = field, Problem = problem }, StatusCodes.Status422UnprocessableEntity);
}
