using DuneCrate.Checking.Comparing;
using DuneCrate.Exr;
using DuneCrate.Imaging.Pictures;
using DuneCrate.Shots.Pictures;
using DuneCrate.Shots.Views;
using DuneCrate.Web.Stations.Shared;

namespace DuneCrate.Web.Stations.Looking;

/// <summary>Two pictures held against each other: where the other lies, how far they are apart, which frames most.</summary>
public static class CompareEndpoints
{
    private const int MostFrames = 240,
        FramesAtOnce = 2,
        RankWidth = 480;

    /// <summary>Adds the routes.</summary>
    public static void MapComparing(this IEndpointRouteBuilder routes)
    {
        routes.MapGet("/{show}/{shot}/sources", SourcesAsync);
        LookRequest.Map(routes, "/{show}/{shot}/apart", ApartAsync);
        LookRequest.Map(routes, "/{show}/{shot}/ranked", RankedAsync);
    }

    /// <summary>The places to compare with: versions, folders beside the shot's, crates, earlier checks.</summary>
    private static Task<IResult> SourcesAsync(HttpContext http, string show, string shot, ShotViews views, FrameSources sources) =>
        ShotAnswers.WithShot(
            http,
            views,
            show,
            shot,
            async (view, cancel) => Results.Json((await sources.ListAsync(view, cancel)).Select(s => new { key = s.Key, words = s.Words }))
        );

    /// <summary>Another picture, named as <see cref="PictureAddress.Parse"/> reads it.</summary>
    internal static async Task<SeenFile> FindOtherAsync(LookRequest look, string name) =>
        PictureAddress.Parse(name) is { } sought && await look.Pictures.FindAsync(look.View, sought, look.Cancel) is { } there
            ? there
            : throw new ImageException(
                "",
                0,
                $"the picture to compare with, {PictureAddress.Parse(name)?.ToString() ?? $"'{name}'"}, is not there"
            );

    /// <summary>
    /// The frames of the range by how much their pictures differ, most first. Pictures are compared shrunk; of a long range every so many
    /// frames. The other picture moves along unless it stays at its frame.
    /// </summary>
    private static async Task<IResult> RankedAsync(LookRequest look)
    {
        IQueryCollection query = look.Http.Request.Query;
        if (PictureAddress.Parse(query["minus"].ToString()) is not { } other)
        {
            return Results.NotFound();
        }

        int away = other.Frame - look.PictureAddress.Frame;
        bool isFixed = query["stays"] == "on";
        long step = (look.View.Range.LongCount + MostFrames - 1) / MostFrames;
        var ranked = new List<(int Frame, double Mean, double Max)>();
        int absent = 0;
        foreach (int[] some in look.View.Range.Where((_, i) => i % step == 0).Chunk(FramesAtOnce))
        {
            var found = await Task.WhenAll(
                some.Select(f =>
                    ApartAtAsync(look, look.PictureAddress with { Frame = f }, isFixed ? other : other with { Frame = f + away })
                )
            );
            for (int i = 0; i < some.Length; i++)
            {
                if (found[i] is var (mean, max))
                {
                    ranked.Add((some[i], mean, max));
                }
                else
                {
                    absent++;
                }
            }
        }

        return Results.Json(
            new
            {
                absent,
                step,
                frames = ranked
                    .OrderByDescending(r => r.Mean)
                    .Select(r => new
                    {
                        frame = r.Frame,
                        mean = LookRequest.Short((float)r.Mean),
                        max = LookRequest.Short((float)r.Max),
                        isEqual = r.Max == 0,
                    }),
            }
        );
    }

    private static async Task<(double Mean, double Max)?> ApartAtAsync(LookRequest look, PictureAddress one, PictureAddress other)
    {
        try
        {
            return
                await look.Pictures.FindAsync(look.View, one, look.Cancel) is { } a
                && await look.Pictures.FindAsync(look.View, other, look.Cancel) is { } b
                && await SmallAsync(look, a) is var ours
                && await SmallAsync(look, b) is var theirs
                && ours.Window == theirs.Window
                ? PassDifference.Size(ours, theirs)
                : null;
        }
        catch (Exception e) when (e is ImageException or IOException or UnauthorizedAccessException)
        {
            // A frame that cannot be read has its finding; here it is one that cannot be compared.
            return null;
        }
    }

    private static async Task<PassPixels> SmallAsync(LookRequest look, SeenFile seen) =>
        await look.Pictures.WholeAsync(seen, await look.Pictures.WindowAsync(seen, look.Cancel), RankWidth, look.Cancel);

    /// <summary>How far the two files are apart, channel by channel: the numbers of <c>./dune compare</c>.</summary>
    private static async Task<IResult> ApartAsync(LookRequest look)
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
                    max = LookRequest.Short((float)c.Max, "g4"),
                    mean = LookRequest.Short((float)c.Mean, "g4"),
                    rms = LookRequest.Short((float)c.Rms, "g4"),
                    psnr = c.Psnr is { } db ? Math.Round(db, 1) : (double?)null,
                    off = Math.Round(c.Off, 5),
                    c.Worst,
                }),
            }
        );
    }

    /// <summary>The same tile of another picture.</summary>
    internal static async Task<PassPixels> OtherAsync(LookRequest look, SeenFile seen)
    {
        PixelBox window = await look.Pictures.WindowAsync(seen, look.Cancel);
        return window == look.Part.DataWindow && await look.TileOf(seen) is { } pixels
            ? pixels
            : throw new ImageException("", 0, "the two pictures have other windows; their difference is told by ./dune compare");
    }
}
