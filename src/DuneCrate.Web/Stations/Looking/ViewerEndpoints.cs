using System.IO.Hashing;
using System.Text;
using DuneCrate.Checking.Intake;
using DuneCrate.Checking.Pictures;
using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging.Pictures;
using DuneCrate.Shots.Pictures;
using DuneCrate.Web.Stations.Shared;

namespace DuneCrate.Web.Stations.Looking;

/// <summary>What the viewer asks for: what there is to be seen, tiles of it, samples of single pixels.</summary>
public static class ViewerEndpoints
{
    /// <summary>Adds the routes.</summary>
    public static void MapViewer(this IEndpointRouteBuilder routes)
    {
        LookRequest.Map(routes, "/{show}/{shot}/seen", InfoAsync);
        LookRequest.Map(routes, "/{show}/{shot}/tile.png", TileAsync);
        LookRequest.Map(routes, "/{show}/{shot}/samples", SamplesAsync);
    }

    private static async Task<IResult> InfoAsync(LookRequest look)
    {
        (SeenFile seen, PartFacts part) = (look.Seen, look.Part);
        look.Http.RequestServices.GetRequiredService<ProxyMaker>().Want(look.View, look.PictureAddress, look.Seen);
        bool isRanged = seen.Definition?.Kind == PassKind.Data && !seen.Definition.Has(PassMeasures.Normal);
        (double Near, double Far)? range = isRanged ? await look.Pictures.RangeAsync(seen, part.DataWindow, look.Cancel) : null;
        return Results.Json(
            new
            {
                display = Corners(part.DisplayWindow),
                data = Corners(part.DataWindow),
                tile = PictureService.TileSide,
                near = seen.Definition?.Has(PassMeasures.Motion) == true ? null : range?.Near,
                far = range?.Far,
                isPlanned = look.Http.Request.Query["channels"].Count == 0,
                primaries = look.Primaries?.Name,
                problem = look.Header.Problem,
                choices = PassChoice
                    .Of(look.Header, look.View.Plan.Catalogue)
                    .Select(c => new
                    {
                        name = c.Pass ?? string.Join(' ', c.Channels.Take(4)),
                        channels = string.Join(',', c.Channels.Take(4)),
                        part = c.Part,
                    }),
            }
        );
    }

    private static int[] Corners(PixelBox box) => [box.MinX, box.MinY, box.MaxX, box.MaxY];

    private static async Task<IResult> TileAsync(LookRequest look)
    {
        HttpRequest request = look.Http.Request;
        string minus = request.Query["minus"].ToString();
        SeenFile? other = minus.Length > 0 ? await CompareEndpoints.FindOtherAsync(look, minus) : null;
        string tag = Tag(look, other);
        look.Http.Response.Headers.ETag = tag;
        if (request.Headers.IfNoneMatch == tag)
        {
            return Results.StatusCode(StatusCodes.Status304NotModified);
        }

        PictureSettings settings = PictureQuery.Read(request.Query, look.Seen, look.Primaries);
        if (await look.TileOf(look.Seen) is not { } pixels)
        {
            return Results.NotFound();
        }

        if (request.Query["named"].ToString() is { Length: > 0 } named)
        {
            pixels = CryptoMask.Of(pixels, named);
        }

        if (other is not null)
        {
            bool isSigned = request.Query["signed"] == "on";
            pixels = PassDifference.Of(
                pixels,
                await CompareEndpoints.OtherAsync(look, other),
                Math.Clamp(look.Number("gain", 1), 1, 1000),
                isSigned
            );
            settings = isSigned ? settings with { View = PictureView.Plain, Near = 0, Far = 1 } : settings with { Near = null, Far = null };
        }

        return Results.Bytes(
            await look.Pictures.PngAsync(
                (long)pixels.Width * pixels.Height,
                () => PictureMaker.Render(pixels, settings),
                0,
                look.Cancel,
                isPacked: false
            ),
            "image/png"
        );
    }

    /// <summary>Differs whenever the tile could: the files, what is asked of it, this version of the application.</summary>
    private static string Tag(LookRequest look, SeenFile? other)
    {
        SeenFile seen = look.Seen;
        string text =
            $"{seen.Path.FullPath}|{seen.Stamp}|{seen.Key}|{seen.Kept}|{seen.Near}|{seen.Far}|{seen.IsStraight}"
            + $"|{look.Primaries?.Name}|{look.Http.Request.QueryString}|{other?.Stamp}|{other?.Kept}|{Assets.Stamp}";
        return $"\"{XxHash3.HashToUInt64(Encoding.UTF8.GetBytes(text)):x16}\"";
    }

    private static async Task<IResult> SamplesAsync(LookRequest look)
    {
        if (await look.AskedAsync(PictureService.MostTold) is not { } pixels)
        {
            return Results.NotFound();
        }

        return Results.Json(
            new
            {
                x = pixels.Window.MinX,
                y = pixels.Window.MinY,
                width = pixels.Width,
                height = pixels.Height,
                channels = pixels.Channels.Select(c => new { name = c.Channel, values = c.Plane.Select(v => LookRequest.Short(v)) }),
            }
        );
    }
}
