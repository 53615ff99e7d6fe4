using DuneCrate.Crates.Describing;
using DuneCrate.Planning.Scene;
using DuneCrate.Planning.Scene.Helpers;
using DuneCrate.Shots.Crating;
using DuneCrate.Shots.Views;
using DuneCrate.Store;
using DuneCrate.Web.Stations.Shared;

namespace DuneCrate.Web.Stations.Looking;

/// <summary>Where the render camera sees the shot's locators: marks that lie beside the picture's things tell of a wrong camera.</summary>
public static class SceneMarksEndpoints
{
    /// <summary>Adds the route.</summary>
    public static void MapSceneMarks(this IEndpointRouteBuilder routes) =>
        routes.MapGet(
            "/{show}/{shot}/scene-marks",
            (HttpContext http, string show, string shot, int frame, ShotViews views, HelperStore helperStore) =>
                ShotAnswers.WithShot(http, views, show, shot, (view, cancel) => MarksAsync(view, frame, helperStore, cancel))
        );

    private static async Task<IResult> MarksAsync(ShotView view, int frame, HelperStore helperStore, CancellationToken cancel)
    {
        if (
            HelperShots.Of(view.Plan) is not { } shot
            || ShotHelpers.Of(await helperStore.HelpersAsync(view.Row.Id, cancel), shot) is not { } kept
            || kept.Handed.Helpers.FirstOrDefault(h => h.Kind == ItemKind.Camera && h.Name == shot.Camera) is not { Lens: { } lens } camera
        )
        {
            return Results.Json(Array.Empty<object>());
        }

        int at = Math.Clamp(frame - shot.First, 0, shot.Count - 1);
        return Results.Json(
            kept.Handed.Helpers.Where(h => h.Kind == ItemKind.Locator)
                .Select(h => (h.Name, Seen: HelperProjection.Project(camera.At(at), lens, h.At(at).Place, shot)))
                .Where(h => h.Seen is not null)
                .Select(h => new
                {
                    name = h.Name,
                    x = Math.Round(h.Seen!.Value.X, 2),
                    y = Math.Round(h.Seen.Value.Y, 2),
                })
        );
    }
}
