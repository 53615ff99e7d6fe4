namespace DuneCrate.Exr;

/// <summary>How a tiled part is cut. Immutable.</summary>
/// <param name="Width">Pixels across a tile.</param>
/// <param name="Height">Lines of a tile.</param>
/// <param name="Mode">Levels.</param>
/// <param name="RoundsUp">Whether the size of a halved level is rounded up.</param>
public sealed record ExrTiling(int Width, int Height, ExrLevelMode Mode, bool RoundsUp)
{
    /// <summary>Levels across for a data window; 1 for <see cref="ExrLevelMode.One"/>.</summary>
    public int LevelsX(PixelBox window) =>
        Mode switch
        {
            ExrLevelMode.One => 1,
            ExrLevelMode.Mipmap => Log2(Math.Max(window.Width, window.Height)) + 1,
            _ => Log2(window.Width) + 1,
        };

    /// <summary>Levels down for a data window.</summary>
    public int LevelsY(PixelBox window) =>
        Mode switch
        {
            ExrLevelMode.One => 1,
            ExrLevelMode.Mipmap => LevelsX(window),
            _ => Log2(window.Height) + 1,
        };

    /// <summary>Size of a side at a level.</summary>
    public long SideAt(long side, int level)
    {
        long divisor = 1L << level;
        return Math.Max(1, RoundsUp ? (side + divisor - 1) / divisor : side / divisor);
    }

    /// <summary>The levels as pairs, in the order of the chunk table.</summary>
    public IEnumerable<(int X, int Y)> Levels(PixelBox window)
    {
        if (Mode == ExrLevelMode.Ripmap)
        {
            for (int y = 0; y < LevelsY(window); y++)
            {
                for (int x = 0; x < LevelsX(window); x++)
                {
                    yield return (x, y);
                }
            }
        }
        else
        {
            for (int level = 0; level < LevelsX(window); level++)
            {
                yield return (level, level);
            }
        }
    }

    /// <summary>Tiles of a level, across and down.</summary>
    public (long Across, long Down) TilesAt(PixelBox window, int levelX, int levelY) =>
        ((SideAt(window.Width, levelX) + Width - 1) / Width, (SideAt(window.Height, levelY) + Height - 1) / Height);

    private int Log2(long size) =>
        RoundsUp
            ? size <= 1
                ? 0
                : 64 - System.Numerics.BitOperations.LeadingZeroCount((ulong)(size - 1))
            : 63 - System.Numerics.BitOperations.LeadingZeroCount((ulong)size);
}
