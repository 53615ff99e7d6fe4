using System.IO.Compression;
using System.Text;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Pictures;
using DuneCrate.Imaging.Stacking;
using DuneCrate.Imaging.Stacking.Looks;
using DuneCrate.Shots.Pictures;
using DuneCrate.Shots.Stacking;
using DuneCrate.Shots.Views;
using DuneCrate.Store;
using DuneCrate.Web.Forms;
using DuneCrate.Web.Stations.Shared;
using Microsoft.AspNetCore.Http.Features;

namespace DuneCrate.Web.Stations.Stacking;

/// <summary>What the composite page asks for: pictures of it, strata, and files to take away.</summary>
public static class StackEndpoints
{
    private const double MostStops = 24;

    /// <summary>Adds the routes.</summary>
    public static void MapStacks(this IEndpointRouteBuilder routes)
    {
        Map(routes, "/{show}/{shot}/stack/picture.png", PictureAsync);
        Map(routes, "/{show}/{shot}/stack/stratum.png", StratumAsync);
        Map(routes, "/{show}/{shot}/stack/frame.ora", OpenRasterAsync);
        Map(routes, "/{show}/{shot}/stack/recipe.json", RecipeAsync);
        routes.MapGet("/{show}/{shot}/stack/written.zip", WrittenAsync);
    }

    /// <summary>What is asked about.</summary>
    private sealed record Asked(HttpContext Http, ShotView View, KeptStack Stack, int Frame, CancellationToken Cancel)
    {
        public T Get<T>()
            where T : notnull => Http.RequestServices.GetRequiredService<T>();

        public IQueryCollection Query => Http.Request.Query;

        /// <summary>The strip of the address, or −1.</summary>
        public int Strip => Query.Whole("strip", -1) is >= 0 and int i && i < Stack.Recipe.Strips.Length ? i : -1;

        /// <summary>The stack, with opacity and gain of the strip as they are being tried.</summary>
        public StackRecipe Tried =>
            Stack.Recipe.Changed(
                Strip,
                s =>
                    s with
                    {
                        Opacity = Math.Clamp(Query.Number("opacity") ?? s.Opacity, 0, 1),
                        Gain = Math.Clamp(Query.Number("gain") ?? s.Gain, -24, 24),
                    }
            );
    }

    private static void Map(IEndpointRouteBuilder routes, string route, Func<Asked, Task<IResult>> answer) =>
        routes.MapGet(
            route,
            (HttpContext http, string show, string shot, int stack, int frame, ShotViews views, StackStore stackStore) =>
                ShotAnswers.WithShot(
                    http,
                    views,
                    show,
                    shot,
                    async (view, cancel) =>
                        (await stackStore.StacksAsync(view.Row.Id, cancel)).FirstOrDefault(s => s.Id == stack) is { } kept
                            ? await answer(new Asked(http, view, kept, frame, cancel))
                            : Results.NotFound()
                )
        );

    private static async Task<IResult> PictureAsync(Asked asked)
    {
        int width = Math.Clamp(asked.Query.Whole("width"), 0, 8192);
        string what = asked.Query["what"].ToString();
        var stacks = asked.Get<StackPictures>();
        var settings = new PictureSettings { Exposure = Math.Clamp(asked.Query.Number("exposure") ?? 0, -MostStops, MostStops) };
        StackRecipe recipe = asked.Tried;
        if (what == "strip" && asked.Strip >= 0)
        {
            StackStrip alone = recipe.Strips[asked.Strip];
            recipe = recipe with { Strips = [alone with { Operation = StackOperation.Over, Opacity = 1, Look = null }] };
        }

        StackPictures.Made made = await stacks.MakeAsync(asked.View, recipe, asked.Frame, width, asked.Cancel);
        StripPixels? depth =
            what == "circles" && asked.Strip >= 0
                ? await stacks.StripAsync(asked.View, recipe, asked.Strip, asked.Frame, width, asked.Cancel)
                : null;
        return await PngAsync(
            asked,
            made.Frame.Width * made.Frame.Height,
            () =>
            {
                Picture picture = PictureMaker.Render(made.Frame.ToPixels(), settings);
                return depth is not null && recipe.Strips[asked.Strip].Look is { Kind: LookKind.Focus } look
                    ? picture.Under(Circles(look, depth, recipe.Width))
                    : picture;
            }
        );
    }

    /// <summary>Circles of confusion in pixels of the full picture, as heat: white from 32 on.</summary>
    private static Picture Circles(StripLook look, StripPixels depth, int fullWidth)
    {
        const double whiteFrom = 32;
        return PictureMaker.Heat(depth.CirclesOf(look), depth.Width, depth.Height, whiteFrom * depth.Width / fullWidth);
    }

    private static async Task<IResult> PngAsync(Asked asked, long pixels, Func<Picture> make)
    {
        byte[] png = await asked.Get<PictureService>().PngAsync(pixels, make, 0, asked.Cancel, isPacked: false);
        return Results.Bytes(png, "image/png");
    }

    private static async Task<IResult> StratumAsync(Asked asked)
    {
        if (asked.Strip < 0)
        {
            return Results.NotFound();
        }

        // As the picture is shown, so that its strips are read once for both.
        const int width = CompositeModel.PictureWidth;
        return
            await asked.Get<StackPictures>().StripAsync(asked.View, asked.Stack.Recipe, asked.Strip, asked.Frame, width, asked.Cancel)
                is { } pixels
            ? Results.Bytes(
                Stratum.Png(
                    asked.Stack.Recipe.Strips[asked.Strip],
                    pixels,
                    (int)((long)asked.Query.Whole("row") * pixels.Height / asked.Stack.Recipe.Height)
                ),
                "image/png"
            )
            : Results.NotFound();
    }

    private static async Task<IResult> OpenRasterAsync(Asked asked)
    {
        StackRecipe recipe = asked.Stack.Recipe;
        StackSources sources = asked.Get<StackSources>();
        var compositor = new StackCompositor(recipe, strip => sources.FolderOf(asked.View, strip), asked.Get<ReadLimits>());
        byte[] file = await asked
            .Get<PictureService>()
            .ReadAsync(
                _ =>
                {
                    using var to = new MemoryStream();
                    OpenRaster.Write(to, recipe, compositor, asked.Frame, asked.Cancel);
                    return to.ToArray();
                },
                asked.Cancel
            );
        return Results.File(file, "image/openraster", FileName(asked, $"{asked.Frame}.ora"));
    }

    private static Task<IResult> RecipeAsync(Asked asked) =>
        Task.FromResult(
            Results.File(Encoding.UTF8.GetBytes(asked.Stack.Recipe.Write()), "application/json", FileName(asked, "stack.json"))
        );

    private static string FileName(Asked asked, string end) => $"{asked.View.Row.Code}_{CompositeQueue.PlainName(asked.Stack)}.{end}";

    /// <summary>A folder that was written, as a ZIP whose files are stored as they are.</summary>
    private static Task<IResult> WrittenAsync(
        HttpContext http,
        string show,
        string shot,
        string name,
        ShotViews views,
        CompositeQueue queue
    ) =>
        ShotAnswers.WithShot(
            http,
            views,
            show,
            shot,
            (view, cancel) =>
            {
                // The archive writes its own entries' ends without waiting; there is no other way to say so.
                http.Features.Get<IHttpBodyControlFeature>()?.AllowSynchronousIO = true;
                return Task.FromResult(
                    queue.WrittenAt(view, name) is { } folder
                        ? Results.Stream(to => ZipAsync(folder, to, cancel), "application/zip", $"{view.Row.Code}_{folder.Name}.zip")
                        : Results.NotFound()
                );
            }
        );

    private static async Task ZipAsync(StoragePath folder, Stream to, CancellationToken cancel)
    {
        using var zip = new ZipArchive(to, ZipArchiveMode.Create, leaveOpen: true);
        foreach ((string name, _) in folder.Entries().OrderBy(e => e.Name, StringComparer.Ordinal))
        {
            using Stream entry = zip.CreateEntry(name, CompressionLevel.NoCompression).Open();
            using StorageFile file = folder.At(name).Open();
            using var from = new FileStream(file.Handle, FileAccess.Read);
            await from.CopyToAsync(entry, cancel);
        }
    }
}
