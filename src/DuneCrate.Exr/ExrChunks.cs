using System.Collections.Immutable;

namespace DuneCrate.Exr;

/// <summary>
/// The chunks of a part: blocks of lines, or tiles level by level, row by row. Only level 0 is the picture; statistics and pictures are
/// made of
/// it. Source: <em>OpenEXR File Layout</em>, chunk layout. Immutable.
/// </summary>
public sealed class ExrChunks
{
    private readonly ExrPart _part;
    private readonly ImmutableArray<(int LevelX, int LevelY, int Across, int Down, int First)> _levels;

    internal ExrChunks(ExrPart part)
    {
        _part = part;
        if (part.Tiling is not { } tiling)
        {
            long count = (part.DataWindow.Height + part.Compression.LinesPerChunk - 1) / part.Compression.LinesPerChunk;
            (Count, BandCount, _levels) = (checked((int)count), checked((int)count), []);
            return;
        }

        long first = 0;
        var levels = ImmutableArray.CreateBuilder<(int, int, int, int, int)>();
        foreach ((int x, int y) in tiling.Levels(part.DataWindow))
        {
            (long across, long down) = tiling.TilesAt(part.DataWindow, x, y);
            levels.Add((x, y, (int)across, (int)down, (int)first));
            first += across * down;
        }

        (Count, _levels) = (checked((int)first), levels.ToImmutable());
        BandCount = _levels[0].Down;
    }

    /// <summary>All chunks, those of smaller levels included.</summary>
    public int Count { get; }

    /// <summary>Bands of whole lines that the picture comes in: blocks of lines, or rows of tiles of level 0.</summary>
    public int BandCount { get; }

    /// <summary>Smaller versions of the picture that the part holds beside it.</summary>
    public int SmallerLevels => Math.Max(0, _levels.Length - 1);

    /// <summary>The chunk at an index of the table.</summary>
    public ExrChunk this[int index]
    {
        get
        {
            PixelBox window = _part.DataWindow;
            if (_part.Tiling is not { } tiling)
            {
                int top = window.MinY + index * _part.Compression.LinesPerChunk;
                return new ExrChunk(
                    index,
                    window with
                    {
                        MinY = top,
                        MaxY = (int)Math.Min((long)top + _part.Compression.LinesPerChunk - 1, window.MaxY),
                    },
                    0,
                    0,
                    0,
                    0
                );
            }

            int level = _levels.Length - 1;
            while (_levels[level].First > index)
            {
                level--;
            }

            (int levelX, int levelY, int across, _, int first) = _levels[level];
            int tileX = (index - first) % across,
                tileY = (index - first) / across;
            int left = window.MinX + tileX * tiling.Width,
                upper = window.MinY + tileY * tiling.Height;
            int right = (int)(window.MinX + tiling.SideAt(window.Width, levelX) - 1),
                lower = (int)(window.MinY + tiling.SideAt(window.Height, levelY) - 1);
            return new ExrChunk(
                index,
                new PixelBox(left, upper, Math.Min(left + tiling.Width - 1, right), Math.Min(upper + tiling.Height - 1, lower)),
                tileX,
                tileY,
                levelX,
                levelY
            );
        }
    }

    /// <summary>The index of a tile, or −1 when there is no such tile.</summary>
    public int IndexOf(int tileX, int tileY, int levelX, int levelY)
    {
        foreach ((int x, int y, int across, int down, int first) in _levels)
        {
            if (x == levelX && y == levelY)
            {
                return tileX >= 0 && tileX < across && tileY >= 0 && tileY < down ? first + tileY * across + tileX : -1;
            }
        }

        return -1;
    }

    /// <summary>The index of the block of lines that begins at a line, or −1.</summary>
    public int IndexOfLine(int y)
    {
        long offset = (long)y - _part.DataWindow.MinY;
        return offset >= 0 && offset % _part.Compression.LinesPerChunk == 0 && offset / _part.Compression.LinesPerChunk < Count
            ? (int)(offset / _part.Compression.LinesPerChunk)
            : -1;
    }

    /// <summary>The whole lines of a band, in data window coordinates.</summary>
    public PixelBox BandBox(int band)
    {
        PixelBox window = _part.DataWindow;
        int height = _part.Tiling?.Height ?? _part.Compression.LinesPerChunk;
        int top = (int)(window.MinY + (long)band * height);
        return window with { MinY = top, MaxY = (int)Math.Min((long)top + height - 1, window.MaxY) };
    }

    /// <summary>The band that holds a line.</summary>
    public int BandOfLine(int y) => (int)(((long)y - _part.DataWindow.MinY) / (_part.Tiling?.Height ?? _part.Compression.LinesPerChunk));

    /// <summary>Indexes of the chunks that make up a band, from left to right.</summary>
    public (int First, int Count) ChunksOfBand(int band) =>
        _part.Tiling is null ? (band, 1) : (_levels[0].First + band * _levels[0].Across, _levels[0].Across);
}
