using System.Globalization;
using System.IO.Compression;
using System.Text;
using DuneCrate.Core.Images;
using DuneCrate.Core.Pictures;
using DuneCrate.Core.Stacking;
using DuneCrate.Core.Stacking.Looks;
using DuneCrate.Core.Storage;
using DuneCrate.Store;
using DuneCrate.Web.Stations.Looking;
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

        public double? Number(string name) =>
            double.TryParse(Http.Request.Query[name], CultureInfo.InvariantCulture, out double n) && double.IsFinite(n) ? n : null;

        public int Whole(string name, int usual = 0) =>
            int.TryParse(Http.Request.Query[name], CultureInfo.InvariantCulture, out int n) ? n : usual;

        /// <summary>The strip of the address, or −1.</summary>
        public int Strip => Whole("strip", -1) is >= 0 and int i && i < Stack.Recipe.Strips.Length ? i : -1;

        /// <summary>The stack, with opacity and gain of the strip as they are being tried.</summary>
        public StackRecipe Tried =>
            Stack.Recipe.Changed(
                Strip,
                s =>
                    s with
                    {
                        Opacity = Math.Clamp(Number("opacity") ?? s.Opacity, 0, 1),
                        Gain = Math.Clamp(Number("gain") ?? s.Gain, -24, 24),
                    }
            );
    }

    private static void Map(IEndpointRouteBuilder routes, string route, Func<Asked, Task<IResult>> answer) =>
        routes.MapGet(
            route,
            (HttpContext http, string show, string shot, int stack, int frame, ShotViews views, ShowStore store) =>
                PictureEndpoints.WithShot(
                    http,
                    views,
                    show,
                    shot,
                    async (view, cancel) =>
                        (await store.StacksAsync(view.Row.Id, cancel)).FirstOrDefault(s => s.Id == stack) is { } kept
                            ? await answer(new Asked(http, view, kept, frame, cancel))
                            : Results.NotFound()
                )
        );

    private static async Task<IResult> PictureAsync(Asked asked)
    {
        int width = Math.Clamp(asked.Whole("width"), 0, 8192);
        string what = asked.Http.Request.Query["what"].ToString();
        var stacks = asked.Get<StackPictures>();
        var settings = new PictureSettings { Exposure = Math.Clamp(asked.Number("exposure") ?? 0, -MostStops, MostStops) };
        if (what == "circles" && asked.Strip >= 0 && asked.Stack.Recipe.Strips[asked.Strip].Look is { Kind: LookKind.Focus } look)
        {
            return await stacks.StripAsync(asked.View, asked.Stack.Recipe, asked.Strip, asked.Frame, width, asked.Cancel) is { } depth
                ? await PngAsync(asked, depth.Width * depth.Height, () => Circles(look, depth, asked.Stack.Recipe.Width))
                : Results.NotFound();
        }

        StackRecipe recipe = asked.Tried;
        if (what == "strip" && asked.Strip >= 0)
        {
            StackStrip alone = recipe.Strips[asked.Strip];
            recipe = recipe with { Strips = [alone with { Operation = StackOperation.Over, Opacity = 1, Look = null }] };
        }

        StackPictures.Made made = await stacks.MakeAsync(asked.View, recipe, asked.Frame, width, asked.Cancel);
        return await PngAsync(asked, made.Frame.Width * made.Frame.Height, () => PictureMaker.Render(made.Frame.ToPixels(), settings));
    }

    /// <summary>Circles of confusion in pixels of the full picture, as heat: white from 32 on.</summary>
    private static Picture Circles(StripLook look, StripPixels depth, int fullWidth)
    {
        const double whiteFrom = 32;
        return PictureMaker.Heat(depth.CirclesOf(look), depth.Width, depth.Height, whiteFrom * depth.Width / fullWidth);
    }

    private static async Task<IResult> PngAsync(Asked asked, long pixels, Func<Picture> make)
    {
        asked.Http.Response.Headers.CacheControl = "private, no-cache";
        byte[] png = await asked.Get<PictureService>().PngAsync(pixels, make, 0, asked.Cancel, isPacked: false);
        return Results.Bytes(png, "image/png");
    }

    private static async Task<IResult> StratumAsync(Asked asked)
    {
        if (asked.Strip < 0)
        {
            return Results.NotFound();
        }

        int width = Math.Clamp(asked.Whole("width", 640), 1, 4096);
        return
            await asked.Get<StackPictures>().StripAsync(asked.View, asked.Stack.Recipe, asked.Strip, asked.Frame, width, asked.Cancel)
                is { } pixels
            ? Results.Bytes(
                Stratum.Png(
                    asked.Stack.Recipe.Strips[asked.Strip],
                    pixels,
                    (int)((long)asked.Whole("row") * pixels.Height / asked.Stack.Recipe.Height)
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

    private static string FileName(Asked asked, string end) =>
        $"{asked.View.Row.Code}_{string.Concat(asked.Stack.Name.Select(c => char.IsAsciiLetterOrDigit(c) ? c : '_'))}.{end}";

    /// <summary>A folder that was written, as a ZIP whose files are stored as they are.</summary>
    private static Task<IResult> WrittenAsync(
        HttpContext http,
        string show,
        string shot,
        string name,
        ShotViews views,
        CompositeQueue queue
    ) =>
        PictureEndpoints.WithShot(
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
