using System.Collections.Immutable;
using DuneCrate.Exr;
using DuneCrate.Foundation.Passes;
using DuneCrate.Imaging;

namespace DuneCrate.Checking.Intake.Measures;

/// <summary>One line of a picture as floats, for the channels that some measure needs. Reused from line to line.</summary>
internal sealed class ScanLine
{
    private readonly float[]?[] _lines;
    private readonly ImmutableArray<ScanChannel> _channels;

    /// <summary>Room for lines of a window.</summary>
    /// <param name="channels">All channels, in file order.</param>
    /// <param name="window">The data window.</param>
    /// <param name="needed">Indices of the channels that are converted.</param>
    public ScanLine(ImmutableArray<ScanChannel> channels, PixelBox window, IEnumerable<int> needed)
    {
        (_channels, Window, Width) = (channels, window, (int)window.Width);
        _lines = new float[channels.Length][];
        foreach (int c in needed)
        {
            _lines[c] ??= new float[Width];
        }
    }

    /// <summary>Bytes of the channels before each in one line.</summary>
    public static int[] Offsets(ImmutableArray<ScanChannel> channels, int width)
    {
        int[] offsets = new int[channels.Length];
        for (int c = 1; c < channels.Length; c++)
        {
            offsets[c] = offsets[c - 1] + channels[c - 1].Type.Bytes() * width;
        }

        return offsets;
    }

    /// <summary>The data window.</summary>
    public PixelBox Window { get; }

    /// <summary>Pixels of a line.</summary>
    public int Width { get; }

    /// <summary>The line, in data window coordinates.</summary>
    public int Y { get; private set; }

    /// <summary>The line's number from the top of the data window, from 0.</summary>
    public int Row => Y - Window.MinY;

    /// <summary>The samples of a channel.</summary>
    public float[] this[int channel] => _lines[channel]!;

    /// <summary>Takes the stored samples of a line of a band; <paramref name="row"/> from 0.</summary>
    public void Set(in ScanBand band, int row)
    {
        Y = band.Box.MinY + row;
        for (int c = 0; c < _lines.Length; c++)
        {
            if (_lines[c] is { } line)
            {
                ChannelType type = _channels[c].Type;
                SampleLine.ToFloats(band.Samples(c, type.Bytes(), row), type, line);
            }
        }
    }
}
