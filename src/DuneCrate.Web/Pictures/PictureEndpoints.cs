using System.Globalization;
using DuneCrate.Core.Images;
using DuneCrate.Core.Planning;
using DuneCrate.Core.Stacking;
using DuneCrate.Web.Shots;

namespace DuneCrate.Web.Pictures;

/// <summary>Pictures as PNG, and the probe.</summary>
public static class PictureEndpoints
{
    private const int EvidenceScale = 4;

    /// <summary>Tells the viewer which pixels a picture shows: minX minY maxX maxY, inclusive.</summary>
    private const string DataWindowHeader = "Data-Window";

    /// <summary>Adds the routes.</summary>
    public static void MapPictures(this IEndpointRouteBuilder routes)
    {
        routes.MapGet("/{show}/{shot}/picture.png", PassAsync);
        routes.MapGet("/{show}/{shot}/rebuild.png", RebuildAsync);
        routes.MapGet("/{show}/{shot}/evidence.png", EvidenceAsync);
        routes.MapGet("/{show}/{shot}/probe", ProbeAsync);
    }

    private static async Task<IResult> PassAsync(HttpContext http, string show, string shot, string layer, string pass, int frame, ShotDesk desk, PictureStore pictures, double exposure = 0, string solo = "", double? near = null, double? far = null, int width = 0) =>
        await WithShot(desk, show, shot, view =>
        {
            if (pictures.Pixels(view, layer, pass, frame) is not { } pixels)
            {
                return Results.NotFound();
            }

            PixelBox window = pixels.Window;
            http.Response.Headers[DataWindowHeader] = string.Create(CultureInfo.InvariantCulture, $"{window.MinX} {window.MinY} {window.MaxX} {window.MaxY}");
            return Png(PictureMaker.Make(pixels, new PictureSettings { Exposure = Math.Clamp(exposure, -24, 24), Solo = solo, Near = near ?? Planned(view, layer, pass)?.Near, Far = far ?? Planned(view, layer, pass)?.Far }), width);
        });

    private static PassPlan? Planned(ShotView view, string layer, string pass) => view.Plan.Layers.FirstOrDefault(l => l.Name == layer)?.FindPass(pass);

    private static async Task<IResult> RebuildAsync(string show, string shot, string layer, int frame, string what, ShotDesk desk, PictureStore pictures, double exposure = 0, int width = 0) =>
        await WithShot(desk, show, shot, view => pictures.Rebuild(view, layer, frame) switch
        {
            null => Results.NotFound(),
            { } rebuild when what == "residual" => Png(PictureMaker.Heat(rebuild.Residual, (int)rebuild.Window.Width, (int)rebuild.Window.Height, 0.1 * Math.Pow(2, -exposure)), width),
            { } rebuild => Png(PictureMaker.Make(new PassPixels("beauty", view.Plan.Catalogue.Find("beauty"), rebuild.Window, [("R", rebuild.Sum[0]), ("G", rebuild.Sum[1]), ("B", rebuild.Sum[2])], null), new PictureSettings { Exposure = Math.Clamp(exposure, -24, 24) }), width),
        });

    private static async Task<IResult> EvidenceAsync(string show, string shot, string layer, string pass, int frame, int x, int y, ShotDesk desk, PictureStore pictures) =>
        await WithShot(desk, show, shot, view => pictures.Pixels(view, layer, pass, frame) is { } pixels
            ? Png(PictureMaker.Make(pixels, new PictureSettings()).Around(x - pixels.Window.MinX, y - pixels.Window.MinY, Evidence.Width, Evidence.Height, EvidenceScale), 0)
            : Results.NotFound());

    private static async Task<IResult> ProbeAsync(string show, string shot, string layer, int frame, int x, int y, ShotDesk desk, PictureStore pictures) =>
        await WithShot(desk, show, shot, view => Results.Json(pictures.Probe(view, layer, frame, x, y).Select(p => new
        {
            pass = p.Pass,
            samples = p.Samples.Select(s => new { channel = s.Channel, value = float.IsFinite(s.Value) ? s.Value.ToString("g6", CultureInfo.InvariantCulture) : float.IsNaN(s.Value) ? "NaN" : s.Value > 0 ? "+infinity" : "−infinity" }),
        })));

    private static async Task<IResult> WithShot(ShotDesk desk, string show, string shot, Func<ShotView, IResult> answer)
    {
        if (await desk.ViewAsync(show, shot, Selection.None) is not { } view)
        {
            return Results.NotFound();
        }

        try
        {
            return answer(view);
        }
        catch (Exception e) when (e is ImageException or IOException or UnauthorizedAccessException)
        {
            return Results.Problem(e is ImageException image ? image.Reason : e.Message, statusCode: StatusCodes.Status422UnprocessableEntity);
        }
    }

    private static IResult Png(Picture picture, int width) => Results.Bytes(picture.ToPng(Math.Clamp(width, 0, 8192)), "image/png");
}
