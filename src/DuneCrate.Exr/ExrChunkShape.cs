namespace DuneCrate.Exr;

/// <summary>
/// What one chunk unpacks to: the lines of a box, top first; in each line the channels in file order, each as the samples that fall on its
/// grid, little-endian. A channel with sampling n has samples where the coordinate is divisible by n. Source: <em>OpenEXR File Layout</em>.
/// </summary>
/// <param name="Part">The part.</param>
/// <param name="Box">The pixels of the chunk; for tiles of a smaller level in that level's coordinates.</param>
public readonly record struct ExrChunkShape(ExrPart Part, PixelBox Box)
{
    /// <summary>Lines of the box.</summary>
    public int Lines => (int)Box.Height;

    /// <summary>Samples of a channel in a line that has any.</summary>
    public int Samples(int channel)
    {
        int step = Part.Channels[channel].XSampling;
        return step == 1 ? (int)Box.Width : OnGrid(Box.MinX, Box.MaxX, step);
    }

    /// <summary>Lines of a channel that have samples.</summary>
    public int LinesOf(int channel)
    {
        int step = Part.Channels[channel].YSampling;
        return step == 1 ? Lines : OnGrid(Box.MinY, Box.MaxY, step);
    }

    /// <summary>Lines above a line of the chunk that a channel has samples in.</summary>
    public int LinesBefore(int channel, int y)
    {
        int step = Part.Channels[channel].YSampling;
        return step == 1 ? y - Box.MinY : OnGrid(Box.MinY, y - 1, step);
    }

    /// <summary>Whether a channel has samples in a line.</summary>
    public bool Has(int channel, int y) => Part.Channels[channel].YSampling is var step && (step == 1 || y % step == 0);

    /// <summary>Bytes of a channel in a line that has any.</summary>
    public int LineBytes(int channel) => Samples(channel) * Part.Channels[channel].Type.Bytes();

    /// <summary>Bytes of the whole chunk.</summary>
    public long Bytes
    {
        get
        {
            if (!Part.IsSubsampled)
            {
                return Box.Width * Box.Height * Part.BytesPerPixel;
            }

            long bytes = 0;
            for (int c = 0; c < Part.Channels.Length; c++)
            {
                bytes += (long)LineBytes(c) * LinesOf(c);
            }

            return bytes;
        }
    }

    private static int OnGrid(int first, int last, int step) => FloorDiv(last, step) - FloorDiv(first - 1, step);

    private static int FloorDiv(int value, int by) => value >= 0 ? value / by : -((-value + by - 1) / by);
}
