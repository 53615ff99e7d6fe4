using System.Collections.Concurrent;
using DuneCrate.Exr;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Pictures;
using DuneCrate.Imaging.Stacking;

namespace DuneCrate.Crates;

/// <summary>The pictures of a slip, as PNG: the test composite and a small one of each pass, all at one frame.</summary>
/// <param name="Frame">The frame, as it was rendered.</param>
/// <param name="Composite">The test composite, or null.</param>
/// <param name="Passes">By layer and pass; what could not be read has none.</param>
internal sealed record SlipPictures(int Frame, byte[]? Composite, IReadOnlyDictionary<(string Layer, string Pass), byte[]> Passes)
{
    private const int SmallWidth = 160,
        LargeWidth = 720;

    /// <summary>Layers of an OpenRaster file are held in memory until it is written; larger pictures are shrunk to this.</summary>
    private const long MostLayerBytes = 256L << 20;

    /// <summary>No pictures.</summary>
    public static readonly SlipPictures None = new(0, null, new Dictionary<(string, string), byte[]>());

    /// <summary>Makes them from the rendered files, at the frame in the middle of the shot.</summary>
    /// <param name="contents">The crate.</param>
    /// <param name="limits">Bounds on what is read.</param>
    /// <param name="raster">Gets the composite as OpenRaster, every strip a layer; null for nobody.</param>
    /// <param name="cancel">Stops.</param>
    /// <param name="mostLayerBytes">Bytes that the layers of the OpenRaster may take in memory.</param>
    public static SlipPictures Make(
        CrateContents contents,
        ReadLimits limits,
        Stream? raster,
        CancellationToken cancel,
        long mostLayerBytes = MostLayerBytes
    )
    {
        int[] frames = [.. contents.Sequences.Where(s => !s.IsStill).SelectMany(s => s.Files).Select(f => f.Frame).Distinct().Order()];
        int frame = frames.Length > 0 ? frames[frames.Length / 2] : 0;
        var passes = new ConcurrentDictionary<(string, string), byte[]>();
        Parallel.ForEach(
            contents.Sequences.SelectMany(s => s.Passes).Where(p => p.Facts is not null),
            new ParallelOptions
            {
                MaxDegreeOfParallelism = Environment.ProcessorCount,
                CancellationToken = cancel,
                TaskScheduler = null,
            },
            pass =>
            {
                if (Small(contents, pass, frame, limits, cancel) is { } png)
                {
                    passes[(pass.Output.Layer.Name, pass.Plan.Pass)] = png;
                }
            }
        );
        return new SlipPictures(frame, Large(contents, frame, limits, raster, mostLayerBytes, cancel), passes);
    }

    private static byte[]? Small(CrateContents contents, PackedPass pass, int frame, ReadLimits limits, CancellationToken cancel)
    {
        string path = pass.Output.Name.At(frame);
        StoragePath file = contents.Folder.TryAt(path, out StoragePath? at, out _) && at.IsFile ? at : contents.Folder.At(pass.Facts!.Path);
        try
        {
            using var lines = PictureLines.Open(file, pass.Facts!.Format, [.. pass.Plan.Channels.Keys], limits, pass.Output.Held);
            int shrink = (int)Math.Max(1, lines.Window.Width / (2 * SmallWidth));
            var planes = PicturePlanes.Read(lines, shrink, pass.Definition?.IsColour != false, null, cancel);
            var pixels = PassPixels.From(planes, pass.Plan.Pass, pass.Definition, pass.Plan.Channels.Keys);
            return pixels.Channels.IsEmpty ? null : PictureMaker.Render(pixels, new PictureSettings()).ToPng(SmallWidth);
        }
        catch (Exception e) when (e is ImageException or IOException or UnauthorizedAccessException)
        {
            // A file that cannot be shown has no picture; what is wrong with it, the check says.
            return null;
        }
    }

    private static byte[]? Large(
        CrateContents contents,
        int frame,
        ReadLimits limits,
        Stream? raster,
        long mostLayerBytes,
        CancellationToken cancel
    )
    {
        if (CrateStack.Main(contents) is not { } recipe)
        {
            return null;
        }

        try
        {
            StackedFrame made = raster is not null
                ? Lead(recipe, contents, frame, limits, raster, mostLayerBytes, cancel)
                : Shrunk(recipe, contents, frame, limits, Math.Max(1, recipe.Width / LargeWidth), cancel).Compositor.Make(frame, cancel);
            return PictureMaker.Render(made.ToPixels(), new PictureSettings()).ToPng(LargeWidth);
        }
        catch (Exception e) when (e is ImageException or IOException or UnauthorizedAccessException)
        {
            return null;
        }
    }

    /// <summary>
    /// The composite in layers, at the full size where its 8-bit layers and four planes of floats have room, else smaller by whole
    /// numbers until the kept floats of its strips have.
    /// </summary>
    private static StackedFrame Lead(
        StackRecipe recipe,
        CrateContents contents,
        int frame,
        ReadLimits limits,
        Stream raster,
        long mostLayerBytes,
        CancellationToken cancel
    )
    {
        long pixels = (long)recipe.Width * recipe.Height;
        if (pixels * (4 * recipe.Strips.Length + 16) <= mostLayerBytes)
        {
            return OpenRaster.Write(raster, recipe, new StackCompositor(recipe, contents.Folder, limits), frame, cancel).Frame;
        }

        int shrink = (int)Math.Max(2, Math.Ceiling(Math.Sqrt(pixels * (20d * recipe.Strips.Length + 16) / mostLayerBytes)));
        (StackRecipe small, StackCompositor compositor) = Shrunk(recipe, contents, frame, limits, shrink, cancel);
        return OpenRaster.Write(raster, small, compositor, frame, cancel).Frame;
    }

    /// <summary>The composite with one sample for several pixels; what cannot be read is left out of it, and the check says why.</summary>
    private static (StackRecipe Small, StackCompositor Compositor) Shrunk(
        StackRecipe recipe,
        CrateContents contents,
        int frame,
        ReadLimits limits,
        int shrink,
        CancellationToken cancel
    )
    {
        var kept = new Dictionary<StackStrip, StripPixels>();
        foreach (StackStrip strip in recipe.Strips)
        {
            try
            {
                kept[strip] = StripPixels.Read(strip, contents.Folder, frame, recipe.Width, recipe.Height, shrink, limits, cancel);
            }
            catch (ImageException)
            {
                continue;
            }
        }

        StackRecipe small = recipe with
        {
            Width = PicturePlanes.Across(recipe.Width, shrink),
            Height = PicturePlanes.Across(recipe.Height, shrink),
            Strips = [.. recipe.Strips.Where(kept.ContainsKey)],
        };
        return (small, StackCompositor.OfKept(recipe, shrink, kept.GetValueOrDefault, limits));
    }
}
