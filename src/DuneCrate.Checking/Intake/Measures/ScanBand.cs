using System.Runtime.InteropServices;
using DuneCrate.Exr;

namespace DuneCrate.Checking.Intake.Measures;

/// <summary>Some lines of a picture as they are stored, channel after channel, each with its lines of the data window.</summary>
/// <param name="planes">The samples.</param>
/// <param name="box">Where they stand, in data window coordinates.</param>
/// <param name="offsets">Bytes of the channels before each in one line.</param>
internal readonly ref struct ScanBand(ReadOnlySpan<byte> planes, PixelBox box, ReadOnlySpan<int> offsets)
{
    private readonly ReadOnlySpan<byte> _planes = planes;
    private readonly ReadOnlySpan<int> _offsets = offsets;

    /// <summary>The pixels.</summary>
    public PixelBox Box { get; } = box;

    /// <summary>Pixels of a line.</summary>
    public int Width => (int)Box.Width;

    /// <summary>Lines.</summary>
    public int Height => (int)Box.Height;

    /// <summary>A line's samples of a channel of some bytes a sample; <paramref name="row"/> from 0.</summary>
    public ReadOnlySpan<byte> Samples(int channel, int bytes, int row) =>
        _planes.Slice(_offsets[channel] * Height + row * Width * bytes, Width * bytes);

    /// <summary>All samples as 16-bit words.</summary>
    public ReadOnlySpan<ushort> Words => MemoryMarshal.Cast<byte, ushort>(_planes);

    /// <summary>The word at which a line of a half channel begins; <paramref name="row"/> from 0.</summary>
    public int WordOf(int channel, int row) => _offsets[channel] / sizeof(ushort) * Height + row * Width;

    /// <summary>A line's samples of a half channel; <paramref name="row"/> from 0.</summary>
    public ReadOnlySpan<ushort> Halves(int channel, int row) => MemoryMarshal.Cast<byte, ushort>(Samples(channel, sizeof(ushort), row));
}
