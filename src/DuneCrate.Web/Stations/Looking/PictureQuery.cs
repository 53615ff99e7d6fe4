using System.Collections.Immutable;
using DuneCrate.Imaging.Colour;
using DuneCrate.Imaging.Pictures;
using DuneCrate.Shots.Pictures;
using DuneCrate.Web.Forms;

namespace DuneCrate.Web.Stations.Looking;

/// <summary>How a picture is to be shown, as addresses say it; what cannot be read counts as not said.</summary>
public static class PictureQuery
{
    private const double MostStops = 24;

    /// <summary>Every name that the viewer, its tiles and the pictures of Stack read from an address beside layer, pass and
    /// frame.</summary>
    public static readonly ImmutableArray<string> Names =
    [
        .. "exposure gamma view solo near far ground mode marks limit".Split(' '),
        .. "level column row x y width height minus gain named".Split(' '),
        .. "zoom cx cy channels part beside besideframe besidefrom together from signed stays".Split(' '),
        .. "sum gains what strip opacity revision stored".Split(' '),
    ];

    /// <summary>The settings of an address.</summary>
    /// <param name="query">The address.</param>
    /// <param name="seen">What is looked at.</param>
    /// <param name="primaries">The colour's own primaries, or null.</param>
    public static PictureSettings Read(IQueryCollection query, SeenFile seen, Primaries? primaries)
    {
        T Choice<T>(string name)
            where T : struct, Enum => Enum.TryParse(query[name], ignoreCase: true, out T value) && Enum.IsDefined(value) ? value : default;
        bool isShownAsNumbers = seen.Definition is { IsColour: false };
        PictureMarks marks = query["marks"] == "on" ? PictureMarks.Negative | PictureMarks.Above : PictureMarks.None;
        return new PictureSettings
        {
            Exposure = Math.Clamp(query.Number("exposure") ?? 0, -MostStops, MostStops),
            Gamma = Math.Clamp(query.Number("gamma") ?? 1, 0.1, 10),
            View = ViewCurve.Find(query["view"]),
            Solo = query["solo"].ToString(),
            Near = query.Number("near") ?? (isShownAsNumbers ? seen.Near : null),
            Far = query.Number("far") ?? (isShownAsNumbers ? seen.Far : null),
            Ground = Choice<PictureGround>("ground"),
            Mode = Choice<PictureMode>("mode"),
            Marks = marks,
            Limit = (float)(query.Number("limit") ?? 1),
            IsStraight = seen.IsStraight,
            Primaries = primaries,
        };
    }
}
