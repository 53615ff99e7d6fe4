using DuneCrate.Exr;

namespace DuneCrate.Imaging.Rasters;

/// <summary>
/// The pixels of a picture that is not OpenEXR, from top to bottom, some lines at a time; in each line the channels lie one after the
/// other. One thread at a time.
/// </summary>
public abstract class RasterReader(RasterHeader header, string path) : IDisposable
{
    private const int BandBytes = 8 << 20,
        MostLines = 64;

    private byte[]? _planar;

    /// <summary>The header.</summary>
    protected RasterHeader Header { get; } = header;

    /// <summary>The file, for messages.</summary>
    protected string Path { get; } = path;

    /// <summary>Bytes of a line: every channel.</summary>
    public int LineBytes { get; } = checked(header.Width * header.PixelBytes);

    /// <summary>Lines of a band but for the last.</summary>
    public virtual int BandLines => Math.Clamp(BandBytes / LineBytes, 1, MostLines);

    /// <summary>Whether lines after one that is lost can still be read.</summary>
    public virtual bool CanGoOn => false;

    /// <summary>Reads the band that begins at a line; bands are asked for from the top.</summary>
    /// <param name="y">Its first line: a multiple of <see cref="BandLines"/>.</param>
    /// <param name="cancel">Stops; decoding in a library is stopped too.</param>
    /// <exception cref="ImageException">The pixels cannot be read, or end early: then with
    /// <see cref="ImageProblem.Truncated"/>.</exception>
    public ReadOnlySpan<byte> Read(int y, CancellationToken cancel)
    {
        cancel.ThrowIfCancellationRequested();
        int lines = Math.Min(BandLines, Header.Height - y);
        Span<byte> planar = (_planar ??= new byte[LineBytes * BandLines]).AsSpan(0, LineBytes * lines);
        Fill(y, lines, planar, cancel);
        return planar;
    }

    /// <summary>Fills in the lines from one on.</summary>
    protected abstract void Fill(int y, int lines, Span<byte> planar, CancellationToken cancel);

    /// <inheritdoc/>
    public abstract void Dispose();
}
