using System.Collections.Immutable;
using DuneCrate.Checking.Rebuild;
using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;
using DuneCrate.Imaging.Listing;

namespace DuneCrate.Checking.Intake;

/// <summary>
/// The beauty and the terms of a rebuild, line by line from the top, from however many files they lie in. One thread at a time.
/// </summary>
public sealed class RebuildLines : IDisposable
{
    private readonly (PictureLines Picture, float[][] Lines, ImmutableArray<string> Channels)[] _files;
    private readonly ProductLines _products;

    private RebuildLines(
        RebuildRecipe recipe,
        PixelBox window,
        (PictureLines Picture, float[][] Lines, ImmutableArray<string> Channels)[] files
    )
    {
        (Window, _files) = (window, files);
        var lines = files
            .SelectMany(f => f.Channels.Distinct().Select(c => (c, f.Lines[f.Picture.Channels.IndexOf(RebuildRecipe.NameOf(c))])))
            .ToDictionary(l => l.c, l => l.Item2);
        int width = (int)window.Width;
        Beauty = [.. recipe.Beauty.Select(c => lines[c])];
        _products = new ProductLines(recipe.Terms.Select(t => t.Factors.Length), width);
        for (int t = 0; t < recipe.Terms.Length; t++)
        {
            for (int f = 0; f < recipe.Terms[t].Factors.Length; f++)
            {
                recipe.Terms[t].Factors[f].Select(c => lines[c]).ToArray().CopyTo(_products.Factors[t][f], 0);
            }
        }

        ReadingBytes = files.Sum(f => f.Picture.ReadingBytes + (f.Lines.Length + 3L * recipe.Terms.Length) * width * sizeof(float));
    }

    /// <summary>The data window that all files have.</summary>
    public PixelBox Window { get; }

    /// <summary>Memory that reading takes.</summary>
    public long ReadingBytes { get; }

    /// <summary>What is lost of the lines read so far, or null.</summary>
    public string? Problem => _files.Select(f => f.Picture.Problem).FirstOrDefault(p => p is not null);

    /// <summary>The beauty's line that was read last, by colour.</summary>
    public float[][] Beauty { get; }

    /// <summary>The terms' lines that were read last, by term and colour.</summary>
    public float[][][] Terms => _products.Terms;

    /// <summary>The factors' lines that were read last, by term, factor and colour; null where no term is a product.</summary>
    public float[][][][]? Factors => _products.HasProducts ? _products.Factors : null;

    /// <summary>Opens the files.</summary>
    /// <param name="recipe">What sums to what.</param>
    /// <param name="files">The files with the channels that each gives, and the pass of those that hold one.</param>
    /// <param name="limits">Bounds on what they may claim.</param>
    /// <exception cref="ImageException">A file cannot be read, lacks a channel, or has another data window than the first.</exception>
    /// <exception cref="IOException">A file cannot be opened.</exception>
    public static RebuildLines Open(
        RebuildRecipe recipe,
        IReadOnlyCollection<(StoragePath Path, ImmutableArray<string> Channels, HeldPass? Held)> files,
        ReadLimits limits
    )
    {
        var open = new List<(PictureLines Picture, float[][] Lines, ImmutableArray<string> Channels)>();
        try
        {
            foreach ((StoragePath path, ImmutableArray<string> channels, HeldPass? held) in files)
            {
                string[] names = [.. channels.Select(RebuildRecipe.NameOf)];
                PictureLines picture = PictureLines.Open(path, IntakeFile.FormatOf(path.Relative), names, limits, held);
                open.Add((picture, [.. picture.Channels.Select(_ => new float[picture.Window.Width])], channels));
                if (picture.Window != open[0].Picture.Window)
                {
                    throw new ImageException(
                        path.Display,
                        0,
                        "its data window is not that of the layer's other files, so they cannot be summed"
                    );
                }

                if (names.FirstOrDefault(c => !picture.Channels.Contains(c)) is { } missing)
                {
                    throw new ImageException(path.Display, 0, $"it lacks {missing}, so nothing can be summed");
                }
            }

            return new RebuildLines(recipe, open[0].Picture.Window, [.. open]);
        }
        catch
        {
            open.ForEach(o => o.Picture.Dispose());
            throw;
        }
    }

    /// <summary>Reads the next line into <see cref="Beauty"/> and <see cref="Terms"/>.</summary>
    /// <param name="y">The line, in data window coordinates; from the top.</param>
    /// <param name="cancel">Stops.</param>
    public void Read(int y, CancellationToken cancel)
    {
        foreach ((PictureLines picture, float[][] lines, _) in _files)
        {
            picture.Read(y, lines, cancel);
        }

        _products.Multiply();
    }

    /// <summary>Closes the files.</summary>
    public void Dispose()
    {
        foreach ((PictureLines picture, _, _) in _files)
        {
            picture.Dispose();
        }
    }
}
