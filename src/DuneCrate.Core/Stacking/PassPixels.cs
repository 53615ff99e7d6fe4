using System.Collections.Immutable;
using DuneCrate.Core.Images;
using DuneCrate.Core.Passes;

namespace DuneCrate.Core.Stacking;

/// <summary>The pixels of one pass at one frame: its channels in the plan's order, each width × height floats, row-major, top line first.</summary>
public sealed record PassPixels(string Pass, PixelBox Window, ImmutableArray<(string Channel, float[] Plane)> Channels, string? Problem)
{
    /// <summary>Pixels across.</summary>
    public int Width => (int)Window.Width;

    /// <summary>Lines.</summary>
    public int Height => (int)Window.Height;

    /// <summary>The entry of the catalogue, or null.</summary>
    public PassDefinition? Definition => PassCatalogue.Shipped.Find(Pass);

    /// <summary>Bytes that the planes take.</summary>
    public long Bytes => Channels.Sum(c => c.Plane.LongLength * sizeof(float));
}
