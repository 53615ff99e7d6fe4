using System.Globalization;
using System.IO.Compression;
using System.Xml.Linq;

namespace DuneCrate.Imaging.Stacking;

/// <summary>
/// Writes a frame of a composite as OpenRaster, every strip a layer. Source: OpenRaster specification 0.0.5: the mimetype comes first and
/// is stored, <c>stack.xml</c> lists layers from the top, the merged image and a thumbnail of at most 256 pixels stand beside it. Layers
/// are 8-bit sRGB with straight alpha.
/// </summary>
public static class OpenRaster
{
    private const int ThumbnailSide = 256;
    private const string MergedImage = "mergedimage.png";

    /// <summary>Writes a frame.</summary>
    /// <param name="to">Where to; seekable.</param>
    /// <param name="recipe">The composite.</param>
    /// <param name="compositor">Makes it.</param>
    /// <param name="frame">The frame.</param>
    /// <param name="cancel">Stops.</param>
    /// <returns>The frame, and what the format cannot say.</returns>
    public static (StackedFrame Frame, IReadOnlyList<string> Unsaid) Write(
        Stream to,
        StackRecipe recipe,
        StackCompositor compositor,
        int frame,
        CancellationToken cancel
    )
    {
        (int width, int height) = (recipe.Width, recipe.Height);
        byte[]?[] layers = new byte[recipe.Strips.Length][];
        StackedFrame whole = compositor.Make(
            frame,
            cancel,
            (strip, y, colour, alpha) =>
                StraightRgba.Row((layers[strip] ??= new byte[4 * width * height]).AsSpan(4 * y * width), colour, alpha)
        );
        using var zip = new ZipArchive(to, ZipArchiveMode.Create, leaveOpen: true);
        Put(zip, "mimetype", "image/openraster"u8, CompressionLevel.NoCompression);
        var stack = new XElement("stack");
        var unsaid = new List<string>();
        for (int i = recipe.Strips.Length - 1; i >= 0; i--)
        {
            StackStrip strip = recipe.Strips[i];
            if (layers[i] is not { } rgba)
            {
                if (strip.Look is { } look)
                {
                    unsaid.Add(
                        $"{strip.Name}: OpenRaster has no {look.Kind.ToString().ToLowerInvariant()}; it is in the merged image alone"
                    );
                }

                continue;
            }

            string source = string.Create(CultureInfo.InvariantCulture, $"data/layer{i + 1:000}.png");
            Put(zip, source, StraightRgba.Png(rgba, width, height, 0), CompressionLevel.NoCompression);
            (string operation, bool isSame) = Operation(strip.Operation);
            if (!isSame)
            {
                unsaid.Add($"{strip.Name}: OpenRaster has no {strip.Operation.ToString().ToLowerInvariant()}; it lies over what is below");
            }

            if (strip.Mask is not null)
            {
                unsaid.Add($"{strip.Name}: OpenRaster has no masks; the layer stands whole");
            }

            stack.Add(
                new XElement(
                    "layer",
                    new XAttribute("name", strip.Name),
                    new XAttribute("src", source),
                    new XAttribute("x", 0),
                    new XAttribute("y", 0),
                    new XAttribute("opacity", strip.Opacity),
                    new XAttribute("visibility", strip.Opacity > 0 ? "visible" : "hidden"),
                    new XAttribute("composite-op", operation)
                )
            );
        }

        var image = new XElement(
            "image",
            new XAttribute("version", "0.0.3"),
            new XAttribute("w", width),
            new XAttribute("h", height),
            stack
        );
        Put(
            zip,
            "stack.xml",
            System.Text.Encoding.UTF8.GetBytes(new XDeclaration("1.0", "UTF-8", null) + "\n" + image),
            CompressionLevel.Optimal
        );
        byte[] merged = new byte[4 * width * height];
        for (int y = 0; y < height; y++)
        {
            StraightRgba.Row(
                merged.AsSpan(4 * y * width),
                [.. whole.Planes.Take(3).Select(p => p.AsSpan(y * width, width).ToArray())],
                whole.Planes[3].AsSpan(y * width, width).ToArray()
            );
        }

        Put(zip, MergedImage, StraightRgba.Png(merged, width, height, 0), CompressionLevel.NoCompression);
        Put(zip, "Thumbnails/thumbnail.png", StraightRgba.Png(merged, width, height, ThumbnailSide), CompressionLevel.NoCompression);
        return (whole, unsaid);
    }

    /// <summary>The composite out of a file of this format, as PNG; null when it holds none of so many bytes.</summary>
    /// <param name="from">The file; seekable.</param>
    /// <param name="mostBytes">Bytes that it may have.</param>
    /// <exception cref="InvalidDataException">It is no zip, or a damaged one.</exception>
    public static byte[]? MergedOf(Stream from, long mostBytes)
    {
        using var zip = new ZipArchive(from, ZipArchiveMode.Read, leaveOpen: true);
        if (zip.GetEntry(MergedImage) is not { } entry || entry.Length > mostBytes)
        {
            return null;
        }

        byte[] png = new byte[entry.Length];
        using Stream stream = entry.Open();
        stream.ReadExactly(png);
        return png;
    }

    private static (string Name, bool IsSame) Operation(StackOperation operation) =>
        operation switch
        {
            StackOperation.Over => ("svg:src-over", true),
            StackOperation.Plus => ("svg:plus", true),
            StackOperation.Multiply => ("svg:multiply", true),
            StackOperation.Screen => ("svg:screen", true),
            StackOperation.Minimum => ("svg:darken", true),
            StackOperation.Maximum => ("svg:lighten", true),
            StackOperation.Difference => ("svg:difference", true),
            StackOperation.Holdout => ("svg:dst-out", true),
            StackOperation.Keep => ("svg:dst-in", true),
            _ => ("svg:src-over", false),
        };

    private static void Put(ZipArchive zip, string name, ReadOnlySpan<byte> bytes, CompressionLevel level)
    {
        using Stream entry = zip.CreateEntry(name, level).Open();
        entry.Write(bytes);
    }
}
