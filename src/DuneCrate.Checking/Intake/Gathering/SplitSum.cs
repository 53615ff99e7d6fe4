using System.Collections.Immutable;
using DuneCrate.Checking.Rebuild;
using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;
using DuneCrate.Foundation.Storage;
using DuneCrate.Imaging;

namespace DuneCrate.Checking.Intake.Gathering;

/// <summary>One frame of a layer whose beauty and light passes lie in several files, to be summed.</summary>
/// <param name="Layer">Name of the layer.</param>
/// <param name="Frame">The frame.</param>
/// <param name="Recipe">What sums to what.</param>
/// <param name="Files">The files with the channels that each gives, the one with the beauty first; paths below the folder.</param>
/// <param name="Key">Names the recipe and everything that the files held when their facts were read.</param>
public sealed record SplitSum(
    string Layer,
    int Frame,
    RebuildRecipe Recipe,
    ImmutableArray<(string Path, ImmutableArray<string> Channels, HeldPass? Held)> Files,
    RebuildKey Key
)
{
    /// <summary>Measures it, a band of each file at a time; null when a file cannot be read after all.</summary>
    /// <param name="folder">The folder that the paths lie below.</param>
    /// <param name="limits">Bounds on files.</param>
    /// <param name="cancel">Stops between lines.</param>
    /// <exception cref="OperationCanceledException">It was stopped.</exception>
    public RebuildFacts? Measure(StoragePath folder, ReadLimits limits, CancellationToken cancel)
    {
        try
        {
            using RebuildLines lines = RebuildLines.Open(Recipe, [.. Files.Select(f => (folder.At(f.Path), f.Channels, f.Held))], limits);
            using IDisposable memory = limits.Memory.Take(lines.ReadingBytes, cancel);
            var measure = new RebuildMeasure(Recipe, (int)lines.Window.Width);
            for (int y = lines.Window.MinY; y <= lines.Window.MaxY; y++)
            {
                lines.Read(y, cancel);
                measure.AddLine(lines.Beauty, lines.Terms, lines.Window.MinX, y, lines.Factors);
            }

            return lines.Problem is null ? measure.Finish() : null;
        }
        catch (Exception e) when (e is ImageException or IOException or UnauthorizedAccessException or InsufficientMemoryException)
        {
            // The file was read a moment ago: whatever is the matter now is found when it is read again.
            return null;
        }
    }
}
