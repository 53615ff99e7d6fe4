using System.Buffers;
using DuneCrate.Exr.Codecs;

namespace DuneCrate.Exr;

/// <summary>
/// One band of a part at a time, channel after channel; of channels that nobody wants no more is unpacked than must be. Belongs to one
/// thread at a time.
/// </summary>
/// <param name="file">The file.</param>
/// <param name="part">The part.</param>
public sealed class ExrBand(ExrFile file, ExrPart part) : IPlaneSink, IDisposable
{
    private readonly bool[] _wanted = new bool[part.Channels.Length];
    private ExrChunkShape _shape;
    private int[] _offsets = [];
    private byte[] _planes = [];

    /// <summary>The band that was read; −1 for none.</summary>
    public int Number { get; private set; } = -1;

    /// <summary>Asks for a channel, from the next <see cref="Read"/> on.</summary>
    /// <param name="channel">Its index.</param>
    public void Want(int channel)
    {
        if (!_wanted[channel])
        {
            (_wanted[channel], Number) = (true, -1);
        }
    }

    /// <summary>Reads a band.</summary>
    /// <exception cref="ImageException">A chunk is missing, damaged, or of a kind that is not read.</exception>
    public void Read(int number)
    {
        if (_planes.Length == 0)
        {
            _planes = ArrayPool<byte>.Shared.Rent(file.LargestBand(part));
        }

        Number = -1;
        _shape = new ExrChunkShape(part, part.Chunks.BandBox(number));
        _offsets = PlanarLines.Offsets(_shape);
        file.ReadPlanes(part, number, _planes, this);
        Number = number;
    }

    /// <summary>Whether a channel has samples in a line of the band; one that is subsampled has some lines only.</summary>
    public bool Has(int channel, int y) => y >= _shape.Box.MinY && _shape.Has(channel, y);

    /// <summary>The samples of a wanted channel in a line that <see cref="Has"/> them, as stored.</summary>
    public ReadOnlySpan<byte> Line(int channel, int y)
    {
        int bytes = _shape.LineBytes(channel);
        return _planes.AsSpan(_offsets[channel] + _shape.LinesBefore(channel, y) * bytes, bytes);
    }

    /// <inheritdoc/>
    public bool Wants(int channel) => _wanted[channel];

    /// <inheritdoc/>
    public void Take(int channel, ReadOnlySpan<byte> plane) { }

    /// <summary>Gives the room back.</summary>
    public void Dispose()
    {
        ArrayPool<byte>.Shared.Return(_planes);
        (_planes, Number) = ([], -1);
    }
}
