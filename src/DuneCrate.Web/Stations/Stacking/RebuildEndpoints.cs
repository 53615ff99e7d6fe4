using System.Collections.Immutable;
using DuneCrate.Checking.Pictures;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging.Pictures;
using DuneCrate.Shots.Pictures;
using DuneCrate.Shots.Views;
using DuneCrate.Web.Stations.Shared;

namespace DuneCrate.Web.Stations.Stacking;

/// <summary>Pictures of a rebuild, of the plan's sum or of one that is being tried.</summary>
public static class RebuildEndpoints
{
    private const double WhiteFrom = 0.1;

    /// <summary>Adds the route.</summary>
    public static void MapRebuilds(this IEndpointRouteBuilder routes)
    {
        routes.MapGet("/{show}/{shot}/rebuild.png", PictureAsync);
    }

    private static async Task<IResult> PictureAsync(
        HttpContext http,
        string show,
        string shot,
        string layer,
        int frame,
        string what,
        ShotViews views,
        PictureService pictures,
        double exposure = 0,
        int width = 0
    ) =>
        await ShotAnswers.WithShot(
            http,
            views,
            show,
            shot,
            async (view, cancel) =>
            {
                var tried = RebuildQuery.Read(http.Request.Query);
                if (await pictures.RebuildAsync(view, layer, frame, tried, cancel) is not { } rebuild)
                {
                    return Results.NotFound();
                }

                if (what == "left" && await FittedAsync(pictures, view, layer, frame, tried, rebuild, cancel) is { } fitted)
                {
                    rebuild = fitted;
                }

                var settings = new PictureSettings { Exposure = Math.Clamp(exposure, -24, 24) };
                return await ShotAnswers.PngAsync(
                    pictures,
                    rebuild.Residual.Length,
                    () =>
                        what switch
                        {
                            "residual" => PictureMaker.Heat(
                                rebuild.Residual,
                                rebuild.Width,
                                rebuild.Height,
                                WhiteFrom * Math.Pow(2, -settings.Exposure)
                            ),
                            "left" => PictureMaker.Render(Shown(view, rebuild, Left(rebuild)), settings),
                            "whole" => PictureMaker.Render(Shown(view, rebuild, rebuild.Beauty), settings),
                            _ => PictureMaker.Render(Shown(view, rebuild, rebuild.Sum), settings),
                        },
                    width,
                    cancel
                );
            }
        );

    /// <summary>The rebuild with every term at the gain that the fit found.</summary>
    private static Task<RebuildPixels?> FittedAsync(
        PictureService pictures,
        ShotView view,
        string layer,
        int frame,
        RebuildTry tried,
        RebuildPixels rebuild,
        CancellationToken cancel
    )
    {
        ImmutableArray<double> weights = tried.WeightsFor(rebuild.Fitted.Length);
        ImmutableArray<double> gains = [.. rebuild.Fitted.Select((t, i) => Math.Max(0, t.Gain) * (weights.IsEmpty ? 1 : weights[i]))];
        return pictures.RebuildAsync(view, layer, frame, tried with { Weights = gains }, cancel);
    }

    /// <summary>The light of the beauty that the sum does not hold.</summary>
    private static ImmutableArray<float[]> Left(RebuildPixels rebuild) =>
        [.. rebuild.Beauty.Zip(rebuild.Sum, (beauty, sum) => beauty.Zip(sum, (b, s) => MathF.Max(0, b - s)).ToArray())];

    private static PassPixels Shown(ShotView view, RebuildPixels rebuild, ImmutableArray<float[]> planes) =>
        new(
            PassKeys.Beauty,
            view.Plan.Catalogue.Find(PassKeys.Beauty),
            rebuild.Window,
            rebuild.Shrink,
            [("R", planes[0]), ("G", planes[1]), ("B", planes[2])],
            null
        );
}
