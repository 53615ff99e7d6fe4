using System.Collections.Immutable;
using DuneCrate.Core.Images;
using DuneCrate.Core.Images.Exr;
using DuneCrate.Core.Intake;
using DuneCrate.Core.Passes;
using DuneCrate.Core.Planning;
using DuneCrate.Core.Stacking;
using DuneCrate.Web.Shots;
using Microsoft.Extensions.Caching.Memory;

namespace DuneCrate.Web.Pictures;

/// <summary>Reads pixels for pages and keeps the last ones, so that exposure and flipping answer at once. Safe to call from several threads.</summary>
public sealed class PictureStore : IDisposable
{
    private const long MostBytes = 384L << 20;

    private static readonly float[] Linear = [.. Enumerable.Range(0, ushort.MaxValue + 1).Select(k => (float)SrgbCurve.Decode((double)k / ushort.MaxValue))];

    private readonly MemoryCache _cache = new(new MemoryCacheOptions { SizeLimit = MostBytes });

    /// <summary>
    /// The file that holds a pass at a frame, or null when it has not come. Only names that the plan makes are asked for, so nothing
    /// outside the shot's folder can be named.
    /// </summary>
    public static string? FileOf(ShotView shot, PlannedOutput output, int frame)
    {
        if (shot.Folder is null)
        {
            return null;
        }

        string path = Path.Combine(shot.Folder, output.Name.At(frame));
        return File.Exists(path) ? path : null;
    }

    /// <summary>The pixels of a pass at a frame, or null when the file has not come.</summary>
    /// <exception cref="ImageException">The file cannot be read; the message says why.</exception>
    public PassPixels? Pixels(ShotView shot, string layer, string pass, int frame)
    {
        PlannedOutput? output = shot.Outputs.FirstOrDefault(o => o.Layer.Name == layer && o.Passes.Any(p => p.Pass == pass));
        if (output is null || FileOf(shot, output, frame) is not { } path)
        {
            return null;
        }

        string[] channels = [.. output.Passes.First(p => p.Pass == pass).Channels.Keys];
        PassDefinition? definition = shot.Plan.Catalogue.Find(pass);
        PicturePlanes picture = Planes(path, channels);
        bool isEncoded = picture.IsEncoded && definition?.IsColour == true;
        return new PassPixels(pass, definition, picture.Window, [.. channels.Where(picture.Planes.ContainsKey).Select(c => (c, isEncoded && c[^1] != 'A' ? Decoded(picture.Planes[c]) : picture.Planes[c]))], picture.Problem);
    }

    /// <summary>Beauty, sum and residual of a layer at a frame, or null when the layer names no sum or a file has not come.</summary>
    /// <exception cref="ImageException">A file cannot be read; the message says why.</exception>
    public RebuildPixels? Rebuild(ShotView shot, string layer, int frame)
    {
        LayerPlan? plan = shot.Plan.Layers.FirstOrDefault(l => l.Name == layer);
        if (plan is null || RebuildRecipe.Of(plan) is not { } recipe)
        {
            return null;
        }

        var planes = new Dictionary<string, float[]>();
        PixelBox? window = null;
        foreach (IGrouping<PlannedOutput, string> file in recipe.Channels.Distinct().GroupBy(c => shot.Outputs.First(o => o.Layer.Name == layer && o.Passes.Any(p => p.Channels.ContainsKey(c)))))
        {
            if (FileOf(shot, file.Key, frame) is not { } path)
            {
                return null;
            }

            (ImmutableDictionary<string, float[]> found, PixelBox box, _, _) = Planes(path, [.. file]);
            if (window is { } other && other != box)
            {
                throw new ImageException(path, 0, "its data window is not that of the layer's other files, so they cannot be summed");
            }

            window = box;
            foreach (string channel in file)
            {
                planes[channel] = found.GetValueOrDefault(channel) ?? throw new ImageException(path, 0, $"it lacks {channel}, so nothing can be summed");
            }
        }

        return window is { } whole ? RebuildPixels.Of(recipe, planes, whole) : null;
    }

    /// <summary>
    /// The samples of every pass of a layer at one pixel, in data window coordinates, by pass; passes whose file has not come or cannot be read are left out.
    /// Whole numbers of 8 and 16 bits stand for 0..1.
    /// </summary>
    public IReadOnlyList<(string Pass, IReadOnlyList<(string Channel, float Value)> Samples)> Probe(ShotView shot, string layer, int frame, int x, int y)
    {
        var found = new List<(string, IReadOnlyList<(string, float)>)>();
        foreach (PlannedOutput output in shot.Outputs.Where(o => o.Layer.Name == layer))
        {
            if (FileOf(shot, output, frame) is not { } path)
            {
                continue;
            }

            try
            {
                foreach (IReadOnlyDictionary<string, float> values in Samples(path, output, x, y))
                {
                    foreach (PassPlan pass in output.Passes.Where(p => p.Channels.Keys.Any(values.ContainsKey)))
                    {
                        found.Add((pass.Pass, [.. pass.Channels.Keys.Where(values.ContainsKey).Select(c => (c, values[c]))]));
                    }
                }
            }
            catch (Exception e) when (e is ImageException or IOException or UnauthorizedAccessException)
            {
                // A file that cannot be read has its finding on the Check station; the probe shows the others.
            }
        }

        return found;
    }

    /// <summary>The samples at one pixel, of each part of an OpenEXR file alone.</summary>
    private List<IReadOnlyDictionary<string, float>> Samples(string path, PlannedOutput output, int x, int y)
    {
        if (IntakeFile.FormatOf(path) == "exr")
        {
            using ExrFile file = ExrFile.Open(path);
            return [.. file.Parts.Select(p => ExrImage.Probe(file, p, x, y))];
        }

        PicturePlanes picture = Planes(path, [.. output.Passes.SelectMany(p => p.Channels.Keys).Distinct()]);
        return picture.Window.Contains(x, y) ? [picture.Planes.ToDictionary(p => p.Key, p => p.Value[y * picture.Window.Width + x])] : [];
    }

    private PicturePlanes Planes(string path, string[] channels)
    {
        var info = new FileInfo(path);
        string key = $"{path}|{info.Length}|{info.LastWriteTimeUtc.Ticks}|{string.Join(',', channels)}";
        return _cache.GetOrCreate(key, entry =>
        {
            var picture = PicturePlanes.Read(path, IntakeFile.FormatOf(path), channels);
            entry.Size = Math.Max(1, picture.Bytes);
            return picture;
        })!;
    }

    /// <summary>Scene-linear from whole numbers of 8 or 16 bits along the sRGB curve, given as 0..1: k / 255 is 257 k / 65535.</summary>
    private static float[] Decoded(float[] encoded) => Array.ConvertAll(encoded, v => Linear[(int)(v * ushort.MaxValue + 0.5f)]);

    /// <inheritdoc/>
    public void Dispose() => _cache.Dispose();
}
