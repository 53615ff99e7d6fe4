using System.Collections.Immutable;
using System.Globalization;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Pictures;
using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging.Pictures;
using DuneCrate.Shots.Pictures;
using DuneCrate.Shots.Views;
using DuneCrate.Web.Stations.Shared;

namespace DuneCrate.Web.Stations.Looking;

/// <summary>Pictures as PNG, and the probe.</summary>
public static class PictureEndpoints
{
    private const int EvidenceScale = 4;

    /// <summary>Tells the viewer which pixels a picture shows: minX minY maxX maxY, inclusive.</summary>
    private const string DataWindowHeader = "Data-Window";

    /// <summary>Adds the routes.</summary>
    public static void MapPictures(this IEndpointRouteBuilder routes)
    {
        LookRequest.Map(routes, "/{show}/{shot}/picture.png", PassAsync);
        LookRequest.Map(routes, "/{show}/{shot}/evidence.png", EvidenceAsync);
        routes.MapGet("/{show}/{shot}/probe", ProbeAsync);
    }

    private static async Task<IResult> PassAsync(LookRequest look)
    {
        int width = look.Number("width");
        PassPixels pixels = await look.Pictures.WholeAsync(look.Seen, look.Part.DataWindow, width, look.Cancel);
        PixelBox window = pixels.Window;
        look.Http.Response.Headers[DataWindowHeader] = string.Create(
            CultureInfo.InvariantCulture,
            $"{window.MinX} {window.MinY} {window.MaxX} {window.MaxY}"
        );
        PictureSettings settings = PictureQuery.Read(look.Http.Request.Query, look.Seen, look.Primaries);
        return await ShotAnswers.PngAsync(
            look.Pictures,
            (long)pixels.Width * pixels.Height,
            () => PictureMaker.Render(pixels, settings),
            width,
            look.Cancel
        );
    }

    private static async Task<IResult> EvidenceAsync(LookRequest look)
    {
        // A margin all around, so that a pixel near the edge still stands in a whole piece.
        (int x, int y) = (look.Number("x"), look.Number("y"));
        PixelBox box =
            Math.Abs((long)x) > 1 << 28 || Math.Abs((long)y) > 1 << 28
                ? default
                : new PixelBox(x, y, x, y).Grown(Math.Max(Evidence.Width, Evidence.Height));
        return await look.Pictures.SamplesAsync(look.Seen, box, look.Cancel) is { Width: > 0, Height: > 0 } pixels
            ? await ShotAnswers.PngAsync(
                look.Pictures,
                (long)pixels.Width * pixels.Height,
                () =>
                    PictureMaker
                        .Render(pixels, new PictureSettings())
                        .Around(x - pixels.Window.MinX, y - pixels.Window.MinY, Evidence.Width, Evidence.Height, EvidenceScale),
                0,
                look.Cancel
            )
            : Results.NotFound();
    }

    private static async Task<IResult> ProbeAsync(
        HttpContext http,
        string show,
        string shot,
        string layer,
        int frame,
        int x,
        int y,
        ShotViews views,
        PictureService pictures
    ) =>
        await ShotAnswers.WithShot(
            http,
            views,
            show,
            shot,
            async (view, cancel) =>
            {
                var told = new List<object>();
                foreach ((string pass, var samples) in await pictures.ProbeAsync(view, layer, frame, x, y, cancel))
                {
                    PassDefinition? definition = view.Plan.Catalogue.Find(pass);
                    FileFacts? facts = Facts(views, view, layer, pass, frame);
                    var mattes =
                        definition?.Has(PassMeasures.Cryptomatte) == true
                        && await pictures.FindAsync(view, new PictureAddress(layer, pass, frame), cancel) is { } seen
                            ? await pictures.MatteNamesAsync(seen, cancel)
                            : ImmutableDictionary<float, string>.Empty;
                    told.Add(
                        new
                        {
                            pass,
                            unit = definition?.Unit,
                            name = ItemNames.At(definition, [.. samples.Select(s => s.Value)], view.Plan.Items, mattes),
                            samples = samples.Select(s => new
                            {
                                channel = s.Channel,
                                value = Text(s.Value),
                                among = facts?.FindChannel(s.Channel)?.Samples?.Among(s.Value),
                            }),
                        }
                    );
                }

                return Results.Json(told);
            }
        );

    /// <summary>What the last check knows of the file of a pass at a frame; null while it is not at hand.</summary>
    private static FileFacts? Facts(ShotViews views, ShotView view, string layer, string pass, int frame) =>
        view.Outputs.FirstOrDefault(o => o.Layer.Name == layer && o.Passes.Any(p => p.Pass == pass)) is { } output
        && views.IntakeOf(view)?.Facts.GetValueOrDefault(output.Name.At(frame)) is { } facts
            ? output.Held is null
                ? facts
                : facts.As(output.Held)
            : null;

    private static string Text(float value) =>
        float.IsFinite(value) ? value.ToString("g6", CultureInfo.InvariantCulture)
        : float.IsNaN(value) ? "NaN"
        : value > 0 ? "+infinity"
        : "−infinity";
}
