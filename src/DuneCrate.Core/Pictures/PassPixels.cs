using System.Collections.Immutable;
using DuneCrate.Core.Images;
using DuneCrate.Core.Passes;

namespace DuneCrate.Core.Pictures;

/// <summary>
/// The pixels of one pass at one frame: its channels in the plan's order, each width × height floats, row-major, top line first.
/// </summary>
/// <param name="Pass">Key of the pass.</param>
/// <param name="Definition">Its entry in the catalogue, or null.</param>
/// <param name="Window">The part of the data window that was read.</param>
/// <param name="Shrink">How many pixels across and down one sample stands for.</param>
/// <param name="Channels">Channels with their planes.</param>
/// <param name="Problem">What is lost of it, or null.</param>
public sealed record PassPixels(
    string Pass,
    PassDefinition? Definition,
    PixelBox Window,
    int Shrink,
    ImmutableArray<(string Channel, float[] Plane)> Channels,
    string? Problem
)
{
    /// <summary>Samples across.</summary>
    public int Width => PicturePlanes.Across(Window.Width, Shrink);

    /// <summary>Samples down.</summary>
    public int Height => PicturePlanes.Across(Window.Height, Shrink);

    /// <summary>Bytes that the planes take.</summary>
    public long Bytes => Channels.Sum(c => c.Plane.LongLength * sizeof(float));
}
