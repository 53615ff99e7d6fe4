using DuneCrate.Checking.Pictures;
using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging.Pictures;
using DuneCrate.Web.Stations.Shared;

namespace DuneCrate.Web.Stations.Looking;

/// <summary>Numbers of what is looked at: over a box, along the range, by term of the sum, by name of a matte.</summary>
public static class NumbersEndpoints
{
    private const int MatteWidth = 960,
        MostMattes = 500,
        MostFrames = 240,
        FramesAtOnce = 4;

    /// <summary>Adds the routes.</summary>
    public static void MapNumbers(this IEndpointRouteBuilder routes)
    {
        LookRequest.Map(routes, "/{show}/{shot}/box", BoxAsync);
        LookRequest.Map(routes, "/{show}/{shot}/terms", TermsAsync);
        LookRequest.Map(routes, "/{show}/{shot}/mattes", MattesAsync);
        LookRequest.Map(routes, "/{show}/{shot}/curve", CurveAsync);
    }

    private static async Task<IResult> BoxAsync(LookRequest look)
    {
        if (await look.AskedAsync(int.MaxValue) is not { } pixels)
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
                channels = pixels.Channels.Select(c =>
                {
                    BoxNumbers numbers = BoxNumbers.Of(c.Plane);
                    return new
                    {
                        name = c.Channel,
                        min = LookRequest.Short((float)numbers.Min, "g5"),
                        mean = LookRequest.Short((float)numbers.Mean, "g5"),
                        max = LookRequest.Short((float)numbers.Max, "g5"),
                        deviation = LookRequest.Short((float)numbers.Deviation, "g5"),
                        odd = numbers.Odd,
                    };
                }),
            }
        );
    }

    /// <summary>One pixel along the range: the mean of the pass's first three channels by frame; null where there is no number.</summary>
    private static async Task<IResult> CurveAsync(LookRequest look)
    {
        PixelBox pixel = look.Asked(1);
        long step = (look.View.Range.LongCount + MostFrames - 1) / MostFrames;
        var values = new List<object>();
        foreach (int[] some in look.View.Range.Where((_, i) => i % step == 0).Chunk(FramesAtOnce))
        {
            double?[] found = await Task.WhenAll(some.Select(f => MeanAsync(look, f, pixel)));
            values.AddRange(some.Zip(found, (frame, value) => new { frame, value }));
        }

        return Results.Json(values);
    }

    private static async Task<double?> MeanAsync(LookRequest look, int frame, PixelBox pixel)
    {
        try
        {
            return
                await look.Pictures.FindAsync(look.View, look.PictureAddress with { Frame = frame }, look.Cancel) is { } seen
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
    private static async Task<IResult> MattesAsync(LookRequest look)
    {
        if (look.Seen.Definition?.Has(PassMeasures.Cryptomatte) != true)
        {
            return Results.Json(Array.Empty<object>());
        }

        bool isPixel = look.Http.Request.Query.ContainsKey("x");
        PixelBox box = isPixel ? look.Asked(1) : look.Part.DataWindow;
        PassPixels pixels = isPixel
            ? await look.Pictures.SamplesAsync(look.Seen, box, look.Cancel)
            : await look.Pictures.WholeAsync(look.Seen, box, MatteWidth, look.Cancel);
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
    private static async Task<IResult> TermsAsync(LookRequest look)
    {
        (int x, int y) = (look.Number("x"), look.Number("y"));
        if (
            look.View.Seen.FindLayer(look.PictureAddress.Layer) is not { Rebuild.IsEmpty: false } plan
            || !look.Part.DataWindow.Contains(x, y)
        )
        {
            return Results.Json(Array.Empty<object>());
        }

        PixelBox box = new PixelBox(x, y, x, y).Grown(TermShare.Around).Intersect(look.Part.DataWindow);
        var factors = new Dictionary<string, PassPixels>();
        foreach (string pass in plan.Rebuild.SelectMany(t => t.Factors).Distinct())
        {
            if (
                await look.Pictures.FindAsync(
                    look.View,
                    look.PictureAddress with
                    {
                        Pass = pass,
                        Channels = null,
                        Part = null,
                    },
                    look.Cancel
                ) is
                { } seen
            )
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

    private static double Finite(double share) => double.IsFinite(share) ? Math.Round(share, 4) : 1;
}
