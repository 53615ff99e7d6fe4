using System.Globalization;
using System.IO.Hashing;
using System.Text;
using DuneCrate.Core.Comparing;
using DuneCrate.Core.Images;
using DuneCrate.Core.Images.Colour;
using DuneCrate.Core.Intake;
using DuneCrate.Core.Passes;
using DuneCrate.Core.Pictures;
using DuneCrate.Web.Stations.Shared;

namespace DuneCrate.Web.Stations.Looking;

/// <summary>What the viewer asks for: what there is to be seen, tiles of it, samples of single pixels, numbers over a box.</summary>
public static class ViewerEndpoints
{
    private const int BoxPixels = 9_000_000,
        MatteWidth = 960,
        MostMattes = 500,
        MostFrames = 240,
        FramesAtOnce = 4;

    /// <summary>What is looked at, and by whom.</summary>
    private sealed record Look(
        HttpContext Http,
        ShotView View,
        PictureService Pictures,
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
        public int Number(string name, int usual = 0) =>
            int.TryParse(Http.Request.Query[name], CultureInfo.InvariantCulture, out int n) ? n : usual;
    }

    /// <summary>Adds the routes.</summary>
    public static void MapViewer(this IEndpointRouteBuilder routes)
    {
        Map(routes, "/{show}/{shot}/seen", InfoAsync);
        Map(routes, "/{show}/{shot}/tile.png", TileAsync);
        Map(routes, "/{show}/{shot}/samples", SamplesAsync);
        Map(routes, "/{show}/{shot}/box", BoxAsync);
        Map(routes, "/{show}/{shot}/terms", TermsAsync);
        Map(routes, "/{show}/{shot}/mattes", MattesAsync);
        Map(routes, "/{show}/{shot}/curve", CurveAsync);
        Map(routes, "/{show}/{shot}/apart", ApartAsync);
    }

    private static void Map(IEndpointRouteBuilder routes, string route, Func<Look, Task<IResult>> answer) =>
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
                int? part = null
            ) =>
                PictureEndpoints.WithShot(
                    http,
                    views,
                    show,
                    shot,
                    async (view, cancel) =>
                    {
                        if (await pictures.FindAsync(view, layer, pass, frame, channels, part, cancel) is not { } seen)
                        {
                            return Results.NotFound();
                        }

                        FileFacts header = await pictures.HeaderAsync(seen, cancel);
                        PartFacts? of = seen.PartOf(header);
                        return of is null
                            ? throw new ImageException("", 0, header.Problem ?? $"it has none of {string.Join(", ", seen.Channels)}")
                            : await answer(new Look(http, view, pictures, seen, header, of, cancel));
                    }
                )
        );

    private static async Task<IResult> InfoAsync(Look look)
    {
        (SeenFile seen, PartFacts part) = (look.Seen, look.Part);
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

    private static async Task<IResult> TileAsync(Look look)
    {
        HttpRequest request = look.Http.Request;
        string minus = request.Query["minus"].ToString();
        SeenFile? other = minus.Length > 0 ? await FindOtherAsync(look, minus) : null;
        string tag = Tag(look, other);
        look.Http.Response.Headers.ETag = tag;
        look.Http.Response.Headers.CacheControl = "private, no-cache";
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
            pixels = PassDifference.Of(pixels, await OtherAsync(look, other), Math.Clamp(look.Number("gain", 1), 1, 1000));
        }

        return Results.Bytes(
            await look.Pictures.PngAsync((long)pixels.Width * pixels.Height, () => PictureMaker.Render(pixels, settings), 0, look.Cancel),
            "image/png"
        );
    }

    /// <summary>Another picture, named as layer, pass and frame with bars between.</summary>
    private static async Task<SeenFile> FindOtherAsync(Look look, string name)
    {
        string[] parts = name.Split('|');
        return
            parts.Length == 3
            && int.TryParse(parts[2], CultureInfo.InvariantCulture, out int frame)
            && await look.Pictures.FindAsync(look.View, parts[0], parts[1], frame, null, null, look.Cancel) is { } there
            ? there
            : throw new ImageException("", 0, $"the picture to compare with, {name.Replace('|', ' ')}, is not there");
    }

    /// <summary>How far the two files are apart, channel by channel: the numbers of <c>./dune compare</c>.</summary>
    private static async Task<IResult> ApartAsync(Look look)
    {
        SeenFile other = await FindOtherAsync(look, look.Http.Request.Query["minus"].ToString());
        FileDifference found = await look.Pictures.CompareAsync(look.Seen, other, look.Cancel);
        return Results.Json(
            new
            {
                found.Equal,
                found.Notes,
                channels = found.Channels.Select(c => new
                {
                    c.Name,
                    max = Short((float)c.Max, "g4"),
                    mean = Short((float)c.Mean, "g4"),
                    rms = Short((float)c.Rms, "g4"),
                    psnr = c.Psnr is { } db ? Math.Round(db, 1) : (double?)null,
                    off = Math.Round(c.Off, 5),
                    c.Worst,
                }),
            }
        );
    }

    /// <summary>The same tile of another picture.</summary>
    private static async Task<PassPixels> OtherAsync(Look look, SeenFile seen)
    {
        PartFacts? part = seen.PartOf(await look.Pictures.HeaderAsync(seen, look.Cancel));
        return part?.DataWindow == look.Part.DataWindow && await look.TileOf(seen) is { } pixels
            ? pixels
            : throw new ImageException("", 0, "the two pictures have other windows; their difference is told by ./dune compare");
    }

    /// <summary>Differs whenever the tile could: the files, what is asked of it, this version of the application.</summary>
    private static string Tag(Look look, SeenFile? other)
    {
        string text =
            $"{look.Seen.Path.FullPath}|{look.Seen.Stamp}|{look.Seen.Key}|{look.Seen.Near}|{look.Seen.Far}|{look.Seen.IsStraight}"
            + $"|{look.Primaries?.Name}|{look.Http.Request.QueryString}|{other?.Stamp}|{Assets.Stamp}";
        return $"\"{XxHash3.HashToUInt64(Encoding.UTF8.GetBytes(text)):x16}\"";
    }

    private static async Task<IResult> SamplesAsync(Look look)
    {
        PixelBox box = Asked(look, PictureService.MostTold);
        if (box.IsEmpty)
        {
            return Results.NotFound();
        }

        PassPixels pixels = await look.Pictures.SamplesAsync(look.Seen, box, look.Cancel);
        return Results.Json(
            new
            {
                x = box.MinX,
                y = box.MinY,
                width = pixels.Width,
                height = pixels.Height,
                channels = pixels.Channels.Select(c => new { name = c.Channel, values = c.Plane.Select(v => Short(v)) }),
            }
        );
    }

    private static async Task<IResult> BoxAsync(Look look)
    {
        PixelBox box = Asked(look, int.MaxValue);
        if (box.IsEmpty || box.Width * box.Height > BoxPixels)
        {
            return Results.NotFound();
        }

        PassPixels pixels = await look.Pictures.SamplesAsync(look.Seen, box, look.Cancel);
        return Results.Json(
            new
            {
                x = box.MinX,
                y = box.MinY,
                width = box.Width,
                height = box.Height,
                channels = pixels.Channels.Select(c =>
                {
                    BoxNumbers numbers = BoxNumbers.Of(c.Plane);
                    return new
                    {
                        name = c.Channel,
                        min = Short((float)numbers.Min, "g5"),
                        mean = Short((float)numbers.Mean, "g5"),
                        max = Short((float)numbers.Max, "g5"),
                        deviation = Short((float)numbers.Deviation, "g5"),
                        odd = numbers.Odd,
                    };
                }),
            }
        );
    }

    /// <summary>One pixel along the range: the mean of the pass's first three channels by frame; null where there is no number.</summary>
    private static async Task<IResult> CurveAsync(Look look)
    {
        PixelBox pixel = Asked(look, 1);
        string layer = look.Http.Request.Query["layer"].ToString(),
            pass = look.Http.Request.Query["pass"].ToString();
        long step = (look.View.Range.LongCount + MostFrames - 1) / MostFrames;
        var values = new List<object>();
        foreach (int[] some in look.View.Range.Where((_, i) => i % step == 0).Chunk(FramesAtOnce))
        {
            double?[] found = await Task.WhenAll(some.Select(f => MeanAsync(look, layer, pass, f, pixel)));
            values.AddRange(some.Zip(found, (frame, value) => new { frame, value }));
        }

        return Results.Json(values);
    }

    private static async Task<double?> MeanAsync(Look look, string layer, string pass, int frame, PixelBox pixel)
    {
        try
        {
            return
                await look.Pictures.FindAsync(look.View, layer, pass, frame, null, null, look.Cancel) is { } seen
                && await look.Pictures.SamplesAsync(seen, pixel, look.Cancel) is { Channels.IsEmpty: false } samples
                && samples.Channels.Take(3).Average(c => (double)c.Plane[0]) is var mean
                && double.IsFinite(mean)
                ? mean
                : null;
        }
        catch (Exception e) when (e is ImageException or IOException or UnauthorizedAccessException)
        {
            // A frame that cannot be read has its finding; the curve has a hole there.
            return null;
        }
    }

    /// <summary>The names in a Cryptomatte with the share of the picture that each covers, or those at one pixel.</summary>
    private static async Task<IResult> MattesAsync(Look look)
    {
        if (look.Seen.Definition?.Has(PassMeasures.Cryptomatte) != true)
        {
            return Results.Json(Array.Empty<object>());
        }

        bool isPixel = look.Http.Request.Query.ContainsKey("x");
        PixelBox box = isPixel ? Asked(look, 1) : look.Part.DataWindow;
        PassPixels pixels = isPixel
            ? await look.Pictures.SamplesAsync(look.Seen, box, look.Cancel)
            : (await look.Pictures.WholeAsync(look.View, look.Seen, MatteWidth, look.Cancel)).Pixels;
        var names = await look.Pictures.MatteNamesAsync(look.Seen, look.Cancel);
        return Results.Json(
            CryptoMask
                .Covered(pixels)
                .Take(MostMattes)
                .Select(m => new
                {
                    name = names.GetValueOrDefault(m.Id) ?? $"{BitConverter.SingleToUInt32Bits(m.Id):x8}",
                    isNamed = names.ContainsKey(m.Id),
                    share = Math.Round(m.Share, 5),
                })
        );
    }

    /// <summary>The terms of the layer's sum at a pixel and around it, the one that stands out most first.</summary>
    private static async Task<IResult> TermsAsync(Look look)
    {
        (int x, int y) = (look.Number("x"), look.Number("y"));
        string layer = look.Http.Request.Query["layer"].ToString();
        int frame = look.Number("frame");
        if (look.View.Seen.FindLayer(layer) is not { Rebuild.IsEmpty: false } plan || !look.Part.DataWindow.Contains(x, y))
        {
            return Results.Json(Array.Empty<object>());
        }

        PixelBox box = new PixelBox(x, y, x, y).Grown(TermShare.Around).Intersect(look.Part.DataWindow);
        var factors = new Dictionary<string, PassPixels>();
        foreach (string pass in plan.Rebuild.SelectMany(t => t.Factors).Distinct())
        {
            if (await look.Pictures.FindAsync(look.View, layer, pass, frame, null, null, look.Cancel) is { } seen)
            {
                factors[pass] = await look.Pictures.SamplesAsync(seen, box, look.Cancel);
            }
        }

        return Results.Json(
            TermShare
                .Of(plan.Rebuild, factors, x - box.MinX, y - box.MinY)
                .Select(t => new
                {
                    term = t.Term,
                    passes = t.Passes,
                    share = Finite(t.Share),
                    around = Finite(t.AroundShare),
                    standsOut = t.StandsOut,
                })
        );
    }

    /// <summary>The pixels that the address asks for, within the data window.</summary>
    private static PixelBox Asked(Look look, int most)
    {
        (int x, int y) = (look.Number("x"), look.Number("y"));
        long right = x + (long)Math.Clamp(look.Number("width", 1), 1, most) - 1,
            bottom = y + (long)Math.Clamp(look.Number("height", 1), 1, most) - 1;
        return new PixelBox(x, y, (int)Math.Min(right, int.MaxValue), (int)Math.Min(bottom, int.MaxValue)).Intersect(look.Part.DataWindow);
    }

    private static double Finite(double share) => double.IsFinite(share) ? Math.Round(share, 4) : 1;

    private static string Short(float value, string form = "g3") =>
        float.IsNaN(value) ? "NaN"
        : float.IsInfinity(value) ? (value > 0 ? "+∞" : "−∞")
        : value.ToString(form, CultureInfo.InvariantCulture);
}
