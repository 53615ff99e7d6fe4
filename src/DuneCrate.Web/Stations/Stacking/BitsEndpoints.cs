using DuneCrate.Imaging.Pictures;
using DuneCrate.Imaging.Pictures.Precision;
using DuneCrate.Shots.Stacking;
using DuneCrate.Web.Forms;
using DuneCrate.Web.Stations.Shared;

namespace DuneCrate.Web.Stations.Stacking;

/// <summary>Pictures of what passes lose in fewer bits.</summary>
public static class BitsEndpoints
{
    /// <summary>Adds the route.</summary>
    public static void MapBits(this IEndpointRouteBuilder routes) => LookRequest.Map(routes, "/{show}/{shot}/stack/bits.png", PictureAsync);

    private static async Task<IResult> PictureAsync(LookRequest look)
    {
        BitsPictures bits = look.Http.RequestServices.GetRequiredService<BitsPictures>();
        IQueryCollection query = look.Http.Request.Query;
        if (!Enum.TryParse(query["stored"], out StoredAs stored) || look.Seen.Definition?.IsColour == false)
        {
            return Results.NotFound();
        }

        PrecisionLesson lesson = await bits.LessonAsync(
            look.Seen,
            stored,
            BitsPictures.Stops(query.Number("exposure") ?? 0),
            BitsPictures.Gammas(query.Number("gamma") ?? 1),
            look.Cancel
        );
        return await ShotAnswers.PngAsync(
            look.Pictures,
            lesson.Bands.Length,
            () =>
                query["what"] == "bands"
                    ? PictureMaker.Heat(lesson.Bands, lesson.Graded.Width, lesson.Graded.Height, 1)
                    : PictureMaker.Render(lesson.Graded, new PictureSettings()),
            0,
            look.Cancel
        );
    }
}
