using System.Globalization;
using DuneCrate.Checking.Intake;
using DuneCrate.Exr;
using DuneCrate.Imaging.Colour;
using DuneCrate.Imaging.Pictures;
using DuneCrate.Shots.Pictures;
using DuneCrate.Shots.Views;
using DuneCrate.Web.Forms;

namespace DuneCrate.Web.Stations.Shared;

/// <summary>What is looked at, and by whom.</summary>
internal sealed record LookRequest(
    HttpContext Http,
    ShotView View,
    PictureService Pictures,
    PictureAddress PictureAddress,
    SeenFile Seen,
    FileFacts Header,
    PartFacts Part,
    CancellationToken Cancel
)
{
    /// <summary>The colour's own primaries: the header's, else the show's.</summary>
    public Primaries? Primaries => PictureService.PrimariesOf(View, Part);

    /// <summary>The tile that the address asks for, of this picture or of another with the same window.</summary>
    public Task<PassPixels?> TileOf(SeenFile seen) =>
        Pictures.TileAsync(seen, Part.DataWindow, Number("level"), Number("column"), Number("row"), Cancel);

    /// <summary>A whole number of the address.</summary>
    public int Number(string name, int usual = 0) => Http.Request.Query.Whole(name, usual);

    /// <summary>Adds a route that answers about what its address names.</summary>
    public static void Map(IEndpointRouteBuilder routes, string route, Func<LookRequest, Task<IResult>> answer) =>
        routes.MapGet(
            route,
            (
                HttpContext http,
                string show,
                string shot,
                string layer,
                string pass,
                int frame,
                ShotViews views,
                PictureService pictures,
                string? channels = null,
                int? part = null,
                string from = ""
            ) =>
                ShotAnswers.WithShot(
                    http,
                    views,
                    show,
                    shot,
                    async (view, cancel) =>
                    {
                        var sought = new PictureAddress(layer, pass, frame)
                        {
                            Channels = channels,
                            Part = part,
                            From = from,
                        };
                        if (await pictures.FindAsync(view, sought, cancel) is not { } seen)
                        {
                            return Results.NotFound();
                        }

                        FileFacts header = await pictures.HeaderAsync(seen, cancel);
                        return await answer(new LookRequest(http, view, pictures, sought, seen, header, seen.PartIn(header), cancel));
                    }
                )
        );

    /// <summary>The pixels that the address asks for, within the data window.</summary>
    public PixelBox Asked(int most)
    {
        (int x, int y) = (Number("x"), Number("y"));
        long right = x + (long)Math.Clamp(Number("width", 1), 1, most) - 1,
            bottom = y + (long)Math.Clamp(Number("height", 1), 1, most) - 1;
        return new PixelBox(x, y, (int)Math.Min(right, int.MaxValue), (int)Math.Min(bottom, int.MaxValue)).Intersect(Part.DataWindow);
    }

    /// <summary>Those pixels; null when there are none or too many.</summary>
    public async Task<PassPixels?> AskedAsync(int most)
    {
        PixelBox box = Asked(most);
        return box.IsEmpty || box.Width * box.Height > PictureService.MostPixels ? null : await Pictures.SamplesAsync(Seen, box, Cancel);
    }

    /// <summary>A sample in few digits.</summary>
    public static string Short(float value, string form = "g3") =>
        float.IsNaN(value) ? "NaN"
        : float.IsInfinity(value) ? (value > 0 ? "+∞" : "−∞")
        : value.ToString(form, CultureInfo.InvariantCulture);
}
